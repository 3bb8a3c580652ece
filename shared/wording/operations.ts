import type { InferType } from '../yup'
import { exactly, listOf, oneOf, text } from '../api/replyPieces'
import { wordingSchema } from './wording'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const wordingIdeas = exactly({
  ideas: listOf(text()),
  /** Whether they come from the rules that ship with Vetch, or from an assistant that was set. */
  source: oneOf('rules', 'assistant'),
})
export type WordingIdeas = InferType<typeof wordingIdeas>

export const WORDING = {
  findWordings: {
    method: 'post',
    path: `${SITE}/wording-ideas`,
    access: 'editor',
    summary: 'Other wordings of a text, in a manner',
    body: wordingSchema,
    reply: answers(wordingIdeas),
  },
} as const satisfies Record<string, Operation>
