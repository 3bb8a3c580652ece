import { END, type Moment, type Question, type QuestionKind } from '~~/core/survey/survey'
import { EVERYWHERE } from '~~/shared/collection/collection'
import type { SurveyContent } from '~~/shared/surveys/survey'
import { drawThingId } from '~~/shared/thingId'

export const KINDS_OF_QUESTION: readonly { value: QuestionKind; label: string }[] = [
  { value: 'one', label: 'one choice' },
  { value: 'several', label: 'several choices' },
  { value: 'scale', label: 'scale' },
  { value: 'text', label: 'free text' },
]

export function newQuestion(kind: QuestionKind): Question {
  return asKind(
    {
      id: drawThingId(),
      kind,
      words: '',
      isOptional: false,
      choices: [],
      scale: null,
      branches: [],
    },
    kind,
  )
}

export const newChoice = () => ({ id: drawThingId(), words: '' })

/** A question of another kind: what fits both stays. */
export function asKind(question: Question, kind: QuestionKind): Question {
  const hasChoices = kind === 'one' || kind === 'several'
  const had = question.kind === 'one' || question.kind === 'several'
  return {
    ...question,
    kind,
    choices: hasChoices ? (question.choices.length > 0 ? question.choices : [newChoice(), newChoice()]) : [],
    scale: kind === 'scale' ? (question.scale ?? { low: 1, high: 5, lowWords: '', highWords: '' }) : null,
    branches: hasChoices && had ? question.branches : [],
  }
}

export function newMoment(kind: Moment['kind']): Moment {
  if (kind === 'seconds') return { kind, seconds: 20 }
  if (kind === 'depth') return { kind, percent: 60 }
  if (kind === 'event') return { kind, name: '' }
  return { kind }
}

export const NEW_SURVEY: () => { name: string; content: SurveyContent } = () => ({
  name: 'New survey',
  content: {
    questions: [{ ...newQuestion('text'), words: 'What did you not find here?' }],
    thanks: 'Thank you.',
    words: { next: 'Next', send: 'Send', close: 'Close' },
    moment: newMoment('seconds'),
    audience: null,
    pages: [...EVERYWHERE],
    share: 1000,
  },
})

/** Where an answer to a question may lead: to the question below, to a later one, or nowhere. */
export function waysOn(questions: readonly Question[], place: number): { value: string; label: string }[] {
  const later = questions.slice(place + 1).map(({ id, words }, index) => ({
    value: id,
    label: `${place + index + 2}. ${words || 'question without words'}`.slice(0, 60),
  }))
  return [{ value: '', label: 'the question below' }, ...later, { value: END, label: 'the end' }]
}

/** When a survey is shown, in words. */
export function momentInWords(moment: Moment): string {
  switch (moment.kind) {
    case 'seconds':
      return `after ${moment.seconds} s on the page`
    case 'leaving':
      return 'when somebody is about to leave'
    case 'depth':
      return `at ${moment.percent} % of the page`
    case 'event':
      return `after the event “${moment.name}”`
  }
}
