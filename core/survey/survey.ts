/** What a survey asks, and how an answer leads to the next question. */
export const QUESTION_KINDS = ['one', 'several', 'scale', 'text'] as const
export type QuestionKind = (typeof QUESTION_KINDS)[number]

/** The survey ends here. */
export const END = 'end'

/** Where an answer leads. */
export interface Branch {
  /** Taken where this choice is among those chosen; null for a scale. */
  choice: string | null
  /** Taken where the scale stands from one to the other, both included; null for choices. */
  low: number | null
  high: number | null
  /** Id of a later question, or `END`. */
  next: string
}

export interface Question {
  /** Stays: answers are counted by it. */
  id: string
  kind: QuestionKind
  words: string
  isOptional: boolean
  /** Of `one` and `several`. */
  choices: { id: string; words: string }[]
  /** Of `scale`. */
  scale: { low: number; high: number; lowWords: string; highWords: string } | null
  branches: Branch[]
}

/** When a survey shows itself on a page on which it may. */
export const MOMENTS = ['seconds', 'leaving', 'depth', 'event'] as const
export type Moment =
  | { kind: 'seconds'; seconds: number }
  /** The pointer leaves the window at its top; on touch screens a quick scroll back up. */
  | { kind: 'leaving' }
  /** Per cent of the page that the window has reached. */
  | { kind: 'depth'; percent: number }
  /** An event of the page's own. */
  | { kind: 'event'; name: string }

/** What somebody answered to one question. */
export interface SurveyAnswer {
  choices: string[]
  value: number | null
  text: string | null
}
export const NO_ANSWER: SurveyAnswer = { choices: [], value: null, text: null }

/** Whether something was answered at all. */
export function isAnswered({ choices, value, text }: SurveyAnswer): boolean {
  return choices.length > 0 || value !== null || (text ?? '').trim() !== ''
}

/**
 * The question after one that was answered or skipped: where the first branch that fits leads, otherwise the one below.
 *
 * @param questions - in their order; branches lead to later ones only
 * @param current - id of the question that was answered
 * @returns null where the survey ends
 *
 * @example
 * nextQuestion([{ id: 'a', … }, { id: 'b', … }], 'a', { choices: [], value: 3, text: null }) // the question b
 */
export function nextQuestion(questions: readonly Question[], current: string, answer: SurveyAnswer): Question | null {
  const place = questions.findIndex(({ id }) => id === current)
  const question = questions[place]
  if (!question) return null
  const branch = question.branches.find((each) => fits(each, answer))
  if (!branch) return questions[place + 1] ?? null
  return branch.next === END ? null : (questions.slice(place + 1).find(({ id }) => id === branch.next) ?? null)
}

function fits({ choice, low, high }: Branch, { choices, value }: SurveyAnswer): boolean {
  if (choice !== null) return choices.includes(choice)
  return value !== null && low !== null && high !== null && value >= low && value <= high
}

/** Ids of the questions that no way leads to. */
export function unreachable(questions: readonly Question[]): string[] {
  const reached = new Set<string>(questions[0] ? [questions[0].id] : [])
  questions.forEach((question, place) => {
    if (!reached.has(question.id)) return
    const { branches } = question
    for (const { next } of branches) reached.add(next)
    if (!coversEverything(question) && questions[place + 1]) reached.add(questions[place + 1]!.id)
  })
  return questions.map(({ id }) => id).filter((id) => !reached.has(id))
}

/** Whether each possible answer has a branch. */
function coversEverything({ kind, isOptional, choices, scale, branches }: Question): boolean {
  if (isOptional || kind === 'text') return false
  if (kind === 'scale') {
    const { low, high } = scale ?? { low: 0, high: -1 }
    for (let value = low; value <= high; value++)
      if (!branches.some((each) => each.low !== null && each.high !== null && each.low <= value && value <= each.high))
        return false
    return true
  }
  return choices.every(({ id }) => branches.some(({ choice }) => choice === id))
}
