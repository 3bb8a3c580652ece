import type { InferType } from '../yup'
import { commentsReply } from '../hypotheses/replies'
import { exactly, id, listOf, moment, oneOf, text, yesOrNo } from '../api/replyPieces'

const approval = exactly({
  id: id(),
  personId: id(),
  person: text(),
  /** It is asked of whoever reads this. */
  isOwn: yesOrNo(),
  askedBy: text().nullable(),
  askedAt: moment(),
  answer: oneOf('approved', 'changes').nullable(),
  words: text(),
  answeredAt: moment().nullable(),
  /** The sheet has changed since it was answered. */
  isOutdated: yesOrNo(),
})
/** Who was asked whether an experiment may start, and what they said. */
export type ApprovalView = InferType<typeof approval>

export const reviewReply = exactly({
  comments: commentsReply,
  approvals: listOf(approval),
  /** Who can be asked and mentioned. */
  people: listOf(exactly({ id: id(), name: text() })),
})
export type ReviewView = InferType<typeof reviewReply>
