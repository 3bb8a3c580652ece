import type { SurveyAnswersView, SurveyCounts } from '../../../shared/surveys/replies'
import { and, eq, sql } from 'drizzle-orm'
import type { FilterQuery } from '../../../shared/evidence/filter'
import type { Queries } from '../../database/connect'
import { recording } from '../../database/schema'
import type { EvidenceThread } from '../evidence/askEvidence'
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
  const questions = report.questions.map((each) => ({
    ...each,
    texts: each.texts.slice(0, MOST_TEXTS),
    written: each.texts.length,
  }))
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
