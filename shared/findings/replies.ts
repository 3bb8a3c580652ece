import {
  FINDING_SOURCES,
  FINDING_STATES,
  SEVERITIES,
  type Attachment,
  type FindingNow,
  type FindingsView,
  type FindingSummary,
  type FindingView,
} from './finding'
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
export const attachmentReply = exactly<Attachment>({
  id: id(),
  name: text(),
  type: text(),
  bytes: whole(),
  isPicture: yesOrNo(),
})
export const findingsReply = exactly<FindingsView>({
  findings: listOf(exactly<FindingSummary>({ ...common, attachments: whole(), merged: whole() })),
  tags: listOf(text()),
  pages: listOf(text()),
})
export const findingReply = exactly<FindingView>({
  ...common,

  words: text(),
  version: id(),
  frozen: anything().nullable(),
  pin: anything().nullable(),
  attachments: listOf(attachmentReply),
  into: exactly<NonNullable<FindingView['into']>>({ id: id(), title: text() }).nullable().defined(),
  merged: listOf(exactly<FindingView['merged'][number]>({ id: id(), title: text(), person: text().nullable() })),
})
export const findingNowReply = exactly<FindingNow>({
  from: text(),
  to: text(),
  isLater: yesOrNo(),
  changes: listOf(
    exactly<FindingNow['changes'][number]>({
      key: text(),
      label: text(),
      then: anything(),
      now: anything().nullable(),

      difference: anything().nullable(),
      isDifferent: anything().nullable(),
    }),
  ),
})
