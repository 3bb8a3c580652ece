import { END, type Question } from '../../core/survey/survey'
import type { SurveyContent } from '../../shared/surveys/survey'

const onChoice = (choice: string, next: string) => ({ choice, low: null, high: null, next })
const question = (
  changes: Pick<Question, 'id' | 'kind' | 'words'> & Partial<Question>,
): SurveyContent['questions'][number] => ({ isOptional: false, choices: [], scale: null, branches: [], ...changes })

/** What visitors of the crossings' pages are asked. */
export const CROSSINGS_SURVEY: { name: string; startedDaysAgo: number; content: SurveyContent } = {
  name: 'What is missing on the crossing pages',
  startedDaysAgo: 42,
  content: {
    questions: [
      question({
        id: 'reason',
        kind: 'one',
        words: 'What are you here for?',
        choices: [
          { id: 'book', words: 'To book a crossing' },
          { id: 'compare', words: 'To compare fares and times' },
          { id: 'allowed', words: 'To find out what may come on board' },
          { id: 'other', words: 'Something else' },
        ],
        branches: [onChoice('allowed', 'missing')],
      }),
      question({
        id: 'ease',
        kind: 'scale',
        words: 'How easy was it to find what you need?',
        scale: { low: 1, high: 5, lowWords: 'hard', highWords: 'easy' },
        branches: [{ choice: null, low: 5, high: 5, next: END }],
      }),
      question({ id: 'missing', kind: 'text', words: 'What did you want to know and not find?', isOptional: true }),
    ],
    thanks: 'Thank you. It helps us to make this page better.',
    words: { next: 'Next', send: 'Send', close: 'Close' },
    moment: { kind: 'seconds', seconds: 15 },
    pages: [{ match: 'begins', value: '/crossings/' }],
    share: 5000,
  },
}
