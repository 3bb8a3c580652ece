import type { Answered } from './behavior'
import { KIND, type Visits } from './visits'

/** A text that somebody wrote, and where. */
export interface WrittenAnswer {
  visitor: string
  session: string
  /** ms since 1970 */
  at: number
  text: string
}

/** The answers to one question, each visitor's last. */
export interface QuestionTally {
  id: string
  /** Visitors who answered it. */
  answered: number
  /** Visitors by choice. */
  choices: { id: string; count: number }[]
  /** Visitors by place on the scale. */
  values: { value: number; count: number }[]
  /** The latest first. */
  texts: WrittenAnswer[]
}

export interface SurveyReport {
  /** Visitors to whom it was shown. */
  asked: number
  /** Visitors who answered a question at least. */
  answered: number
  questions: QuestionTally[]
}

interface LastAnswer {
  at: number
  visitor: string
  session: number
  answer: Answered
}

/** How many were asked and answered, by the number of a survey. */
export function surveyCounts(visits: Visits, selected: Uint8Array): Map<number, { asked: number; answered: number }> {
  const counts = new Map<number, { asked: number; answered: number }>()
  for (const [survey, { asked, answered }] of visitorsOf(visits, selected))
    counts.set(survey, { asked: asked.size, answered: answered.size })
  return counts
}

function visitorsOf(visits: Visits, selected: Uint8Array): Map<number, { asked: Set<number>; answered: Set<number> }> {
  const found = new Map<number, { asked: Set<number>; answered: Set<number> }>()
  for (const { count, kind, name, session, visitor } of visits.blocks())
    for (let row = 0; row < count; row++) {
      if (kind[row]! < KIND.asked || selected[session[row]!] !== 1) continue
      const survey = Number(visits.names.texts[name[row]!])
      let those = found.get(survey)
      if (!those) found.set(survey, (those = { asked: new Set(), answered: new Set() }))
      if (kind[row] === KIND.asked) those.asked.add(visitor[row]!)
      else those.answered.add(visitor[row]!)
    }
  return found
}

/**
 * What was answered to a survey in the selected sessions. Of several answers of a visitor to one question the last
 * counts.
 *
 * @param selected - 1 for each session that is looked at
 * @param survey - its number
 * @returns questions in no particular order: those that somebody answered
 */
export function surveyReport(visits: Visits, selected: Uint8Array, survey: number): SurveyReport {
  const last = new Map<string, LastAnswer>()
  for (const { count, kind, session, visitor, at, extra } of visits.blocks())
    for (let row = 0; row < count; row++) {
      if (kind[row] !== KIND.answer || selected[session[row]!] !== 1) continue
      const answer = visits.extras[extra[row]!] as Answered
      if (answer.survey !== survey) continue
      const key = `${visitor[row]} ${answer.question}`
      const before = last.get(key)
      if (before && before.at > at[row]!) continue
      last.set(key, { at: at[row]!, visitor: visits.visitorIds[visitor[row]!]!, session: session[row]!, answer })
    }
  const byQuestion = new Map<string, LastAnswer[]>()
  for (const each of last.values()) {
    const { question } = each.answer
    const those = byQuestion.get(question)
    if (those) those.push(each)
    else byQuestion.set(question, [each])
  }
  const { asked, answered } = visitorsOf(visits, selected).get(survey) ?? { asked: new Set(), answered: new Set() }
  return {
    asked: asked.size,
    answered: answered.size,
    questions: [...byQuestion].map(([id, answers]) => tallyOf(visits, id, answers)),
  }
}

function tallyOf(visits: Visits, id: string, answers: readonly LastAnswer[]): QuestionTally {
  const choices = new Map<string, number>()
  const values = new Map<number, number>()
  const texts: WrittenAnswer[] = []
  for (const { at, visitor, session, answer } of answers) {
    for (const choice of new Set(answer.choices)) choices.set(choice, (choices.get(choice) ?? 0) + 1)
    if (answer.value !== null) values.set(answer.value, (values.get(answer.value) ?? 0) + 1)
    if (answer.text) texts.push({ visitor, session: visits.sessionIds[session]!, at, text: answer.text })
  }
  return {
    id,
    answered: answers.length,
    choices: [...choices].map(([choice, count]) => ({ id: choice, count })),
    values: [...values].map(([value, count]) => ({ value, count })).sort((a, b) => a.value - b.value),
    texts: texts.sort((a, b) => b.at - a.at || (a.visitor < b.visitor ? -1 : 1)),
  }
}
