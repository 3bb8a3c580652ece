import type { SurveyAnswersView, SurveyCounts } from '../../../shared/surveys/replies'
import { and, eq, sql } from 'drizzle-orm'
import type { FilterQuery } from '../../../shared/evidence/filter'
import type { Queries } from '../../database/connect'
import { recording } from '../../database/schema'
import type { EvidenceThread } from '../evidence/askEvidence'
import { answerKey, tagsOfAnswers } from './answerTags'
import { findSurvey } from './surveys'

/** Texts of a question that are listed; the latest. */
const MOST_TEXTS = 2000

/** What was answered to a survey, each text with whether its session was recorded. */
export async function readSurveyAnswers(
  database: Queries,
  evidence: Pick<EvidenceThread, 'ask'>,
  siteId: number,
  { survey, ...filter }: FilterQuery & { survey: number },
): Promise<SurveyAnswersView> {
  await findSurvey(database, siteId, survey)
  const report = await evidence.ask(siteId, 'survey', { ...filter, survey })
  const tags = await tagsOfAnswers(database, siteId, survey)
  const questions = report.questions.map((each) => {
    const texts = each.texts.map((text) => ({
      ...text,
      tags: tags.get(answerKey(each.id, text.visitor, text.session)) ?? [],
    }))
    return {
      ...each,
      texts: texts.slice(0, MOST_TEXTS),
      written: texts.length,
      tags: countedTags(texts.flatMap((text) => text.tags)),
    }
  })
  const written = questions.flatMap(({ texts }) => texts)
  const recorded = await recordedSessions(database, siteId, [...new Set(written.map(({ visitor }) => visitor))])
  return {
    ...report,
    questions: questions.map(({ texts, ...rest }) => ({
      ...rest,
      texts: texts.map((text) => ({ ...text, isRecorded: recorded.has(`${text.visitor} ${text.session}`) })),
    })),
  }
}

/** How often each occurs, the most first. */
function countedTags(tags: readonly string[]): { tag: string; count: number }[] {
  const counts = new Map<string, number>()
  for (const tag of tags) counts.set(tag, (counts.get(tag) ?? 0) + 1)
  return [...counts]
    .map(([tag, count]) => ({ tag, count }))
    .sort((a, b) => b.count - a.count || (a.tag < b.tag ? -1 : 1))
}

async function recordedSessions(database: Queries, siteId: number, visitors: string[]): Promise<Set<string>> {
  const rows = await database
    .select({ visitor: recording.visitorId, session: recording.sessionId })
    .from(recording)
    .where(and(eq(recording.siteId, siteId), sql`${recording.visitorId} = ANY(${sql.param(visitors)}::text[])`))
  return new Set(rows.map(({ visitor, session }) => `${visitor} ${session}`))
}

/** How many were asked and answered, by survey. */
export async function countSurveyAnswers(
  evidence: Pick<EvidenceThread, 'ask'>,
  siteId: number,
  filter: FilterQuery,
): Promise<SurveyCounts> {
  return evidence.ask(siteId, 'surveys', filter)
}
