import type { MarkKind } from '~~/core/evidence/strips'

/** What a mark on a strip is called. */
export const MARK_WORDS: Record<MarkKind, string> = {
  click: 'click',
  submit: 'sent a form',
  amount: 'amount shown',
  custom: 'event of the page',
  error: 'error of the page',
  rage: 'rage click',
  dead: 'dead click',
  field: 'left a field',
  answer: 'answered a survey',
}
