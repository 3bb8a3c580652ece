import { exactly, listOf, oneOf, text } from '../api/replyPieces'
import { wordingSchema } from './wording'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

export const WORDING = {
  findWordings: {
    method: 'post',
    path: `${SITE}/wording-ideas`,
    access: 'editor',
    summary: 'Other wordings of a text, in a manner',
    body: wordingSchema,
    reply: answers(exactly({ ideas: listOf(text()), source: oneOf('rules', 'assistant') })),
  },
} as const satisfies Record<string, Operation>
