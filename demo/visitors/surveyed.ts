import { isInTest } from '../../core/assignment/assignment'
import { isAnswered, nextQuestion, NO_ANSWER, type Question, type SurveyAnswer } from '../../core/survey/survey'
import { matchesPage } from '../../core/targeting/pageRule'
import type { DeliveredSurvey } from '../../shared/surveys/survey'
import type { PageEvent, PageVisit } from './journey'
import type { Random } from './random'
import type { Visitor } from './visitor'

const ANSWERS = 0.22
/** Of those who answer at all, at each question after the first. */
const GOES_ON = 0.86
const WRITES = 0.75
const SECONDS_A_QUESTION = 6

/** Many ask whether a dog may come: the page that says so is linked from nowhere near. */
const REASONS = { book: 38, compare: 30, allowed: 21, other: 11 }
const EASE = { 1: 7, 2: 15, 3: 27, 4: 31, 5: 20 }
const DOGS = [
  'Are dogs allowed on board?',
  'can i take my dog',
  'If our dog may come along and what it costs',
  'Dogs? Nothing about dogs anywhere.',
  'Whether dogs have to stay in the car',
  'Do you take dogs on the foot passenger deck',
  'Is there a fare for dogs',
  'My dog is small, can he sit with me?',
  'I looked for dogs and found nothing',
  'two dogs and a car, how do I book that',
]
const OTHERS = {
  'The fares. I had to scroll a long way down.': 6,
  'fares for a family': 5,
  'Price with a van': 5,
  'How long before departure I have to be at the harbor': 6,
  'Parking at the harbor': 5,
  'If the ferry runs in high wind': 4,
  'When the last boat comes back': 5,
  'How to measure the length of a car with a bike rack': 4,
  'Can I change the day of a booking': 4,
  'Are bikes free': 4,
  'toilets on board': 2,
  'wheelchair access': 3,
  'Nothing, all fine': 4,
  'Is the island hopper pass valid in winter': 3,
  asdf: 1,
}

/** What a survey adds to a page on which somebody stays long enough: it was shown, and perhaps answered. */
export function surveyOn(random: Random, page: PageVisit, visitor: Visitor, survey: DeliveredSurvey): PageEvent[] {
  const { moment, pages, id } = survey
  const shownAfter = moment.kind === 'seconds' ? moment.seconds * 1000 : 0
  const isHere = matchesPage(pages, `https://site.invalid${page.path}`) && page.stay > shownAfter
  if (!isHere || !isInTest(visitor.id, survey)) return []
  const shown: PageEvent = { type: 'asked', after: shownAfter, properties: { survey: id } }
  if (!random.chance(ANSWERS)) return [shown]
  const events = [shown]
  let after = shownAfter
  for (let question = survey.questions[0] ?? null; question;) {
    after += random.between(0.5, 2) * SECONDS_A_QUESTION * 1000
    if (after >= page.stay || (events.length > 1 && !random.chance(GOES_ON))) break
    const answer = answerTo(random, question)
    if (isAnswered(answer))
      events.push({
        type: 'answer',
        after: Math.round(after),
        properties: { survey: id, question: question.id, ...answer },
      })
    question = nextQuestion(survey.questions, question.id, answer)
  }
  return events
}

function answerTo(random: Random, { kind }: Question): SurveyAnswer {
  if (kind === 'one') return { ...NO_ANSWER, choices: [random.pick(REASONS)] }
  if (kind === 'scale') return { ...NO_ANSWER, value: Number(random.pick(EASE)) }
  if (!random.chance(WRITES)) return NO_ANSWER
  const asksForDogs = random.chance(0.42)
  return { ...NO_ANSWER, text: asksForDogs ? DOGS[Math.floor(random.uniform() * DOGS.length)]! : random.pick(OTHERS) }
}
