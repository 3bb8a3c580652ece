import type { FigureChange } from '../../core/evidence/figures'
import { FINDING_SOURCES, FINDING_STATES, SEVERITIES, type FrozenView, type Pin } from './finding'
import { anything, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

const common = {
  id: id(),
  title: text(),
  severity: oneOf(...SEVERITIES),
  state: oneOf(...FINDING_STATES),

  source: oneOf(...FINDING_SOURCES),
  tags: listOf(text()),
  page: text().nullable(),
  person: text().nullable(),

  createdAt: moment(),
  picture: id().nullable(),
}
export const attachmentReply = exactly({
  id: id(),
  name: text(),
  type: text(),
  bytes: whole(),
  isPicture: yesOrNo(),
})
export const findingsReply = exactly({
  findings: listOf(exactly({ ...common, attachments: whole(), merged: whole() })),
  tags: listOf(text()),
  pages: listOf(text()),
})
export const findingReply = exactly({
  ...common,

  words: text(),
  version: id(),
  frozen: anything<FrozenView>().nullable(),
  pin: anything<Pin>().nullable(),
  attachments: listOf(attachmentReply),
  into: exactly({ id: id(), title: text() }).nullable().defined(),
  merged: listOf(exactly({ id: id(), title: text(), person: text().nullable() })),
})
export const findingNowReply = exactly({
  from: text(),
  to: text(),
  isLater: yesOrNo(),
  changes: listOf(
    exactly({
      key: text(),
      label: text(),
      then: anything<FigureChange['then']>(),
      now: anything<FigureChange['then']>().nullable(),

      difference: anything<NonNullable<FigureChange['difference']>>().nullable(),
      isDifferent: yesOrNo().nullable(),
    }),
  ),
})
