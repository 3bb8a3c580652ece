import type { InferType } from '../yup'
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
  /** Id of its picture. */
  picture: id().nullable(),
}
export const attachmentReply = exactly({
  id: id(),
  name: text(),
  type: text(),
  bytes: whole(),
  isPicture: yesOrNo(),
})
export type Attachment = InferType<typeof attachmentReply>

const findingSummary = exactly({
  ...common,
  attachments: whole(),
  /** Findings that say the same and were merged into it. */
  merged: whole(),
})
export type FindingSummary = InferType<typeof findingSummary>

export const findingsReply = exactly({
  findings: listOf(findingSummary),
  /** All tags and pages that findings of the site have. */
  tags: listOf(text()),
  pages: listOf(text()),
})
export type FindingsView = InferType<typeof findingsReply>

export const findingReply = exactly({
  ...common,

  words: text(),
  version: id(),
  frozen: anything<FrozenView>().nullable(),
  pin: anything<Pin>().nullable(),
  attachments: listOf(attachmentReply),
  /** What it was merged into. */
  into: exactly({ id: id(), title: text() }).nullable().defined(),
  merged: listOf(exactly({ id: id(), title: text(), person: text().nullable() })),
})
export type FindingView = InferType<typeof findingReply>

export const findingNowReply = exactly({
  from: text(),
  to: text(),
  /** Whether none of the days are those of then. */
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
/** The frozen view asked again, for as many days up to today. */
export type FindingNow = InferType<typeof findingNowReply>
