import type { ApprovalView } from './review'
import { commentsReply } from '../hypotheses/replies'
import { exactly, id, listOf, moment, oneOf, text, yesOrNo } from '../api/replyPieces'

export const reviewReply = exactly({
  comments: commentsReply,
  approvals: listOf(
    exactly({
      id: id(),
      personId: id(),
      person: text(),
      isOwn: yesOrNo(),
      askedBy: text().nullable(),
      askedAt: moment(),
      answer: oneOf<NonNullable<ApprovalView['answer']>>('approved', 'changes').nullable(),

      words: text(),
      answeredAt: moment().nullable(),
      isOutdated: yesOrNo(),
    }),
  ),
  people: listOf(exactly({ id: id(), name: text() })),
})
