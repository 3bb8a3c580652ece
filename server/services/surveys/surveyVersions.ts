import { and, desc, eq, inArray } from 'drizzle-orm'
import type { SurveyVersion } from '../../../shared/surveys/replies'
import { surveySchema, type SurveyContent } from '../../../shared/surveys/survey'
import type { Queries } from '../../database/connect'
import { changeLog, person } from '../../database/schema'
import { findSurvey } from './surveys'

const MOST = 100

/**
 * What a survey asked after each change, as the log of changes has it; the latest first.
 *
 * @throws HttpProblem 404 for one that is not the site's
 */
export async function surveyVersions(database: Queries, siteId: number, surveyId: number): Promise<SurveyVersion[]> {
  const { version } = await findSurvey(database, siteId, surveyId)
  const rows = await database
    .select({ at: changeLog.at, person: person.name, after: changeLog.after })
    .from(changeLog)
    .leftJoin(person, eq(person.id, changeLog.personId))
    .where(
      and(
        eq(changeLog.siteId, siteId),
        eq(changeLog.subject, 'survey'),
        eq(changeLog.subjectId, surveyId),
        inArray(changeLog.action, ['added', 'changed']),
      ),
    )
    .orderBy(desc(changeLog.id))
    .limit(MOST)
  return rows.map(({ at, person: by, after }, place) => {
    const { name, content } = surveySchema.cast(after, { assert: false }) as { name: string; content: SurveyContent }
    // Each change is a version.
    return { version: version - place, at: at.toISOString(), person: by, name, content }
  })
}
