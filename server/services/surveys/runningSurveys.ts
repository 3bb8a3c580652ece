import { and, asc, eq } from 'drizzle-orm'
import type { DeliveredSurvey } from '../../../shared/surveys/survey'
import type { Queries } from '../../database/connect'
import { site, survey } from '../../database/schema'
import { audienceInliner } from '../audiences/savedAudiences'

/** What browsers show. */
export async function runningSurveys(
  database: Queries,
  siteId: number,
): Promise<(DeliveredSurvey & { name: string })[]> {
  const rows = await database
    .select({ id: survey.id, name: survey.name, content: survey.content })
    .from(survey)
    .where(and(eq(survey.siteId, siteId), eq(survey.state, 'running')))
    .orderBy(asc(survey.id))
  const inline = await audienceInliner(database, siteId)
  return rows.map(({ id, name, content }) => ({
    id,
    name,
    ...content,
    audience: content.audience ? inline(content.audience, null) : null,
    salt: surveySalt(id),
  }))
}

/** What draws the share of a survey. */
export const surveySalt = (id: number) => `survey-${id}`

/** What browsers show on the site of a key; nothing for a key that no site has. */
export async function surveysOfKey(database: Queries, key: string): Promise<DeliveredSurvey[]> {
  const [found] = await database.select({ id: site.id }).from(site).where(eq(site.key, key))
  if (!found) return []
  // What the team calls it is the team's.
  return (await runningSurveys(database, found.id)).map(({ name: _, ...delivered }) => delivered)
}

/** Where the build of the script that shows surveys expects them. */
const PLACE = '__VETCH_SURVEYS__'

/** The script that shows surveys, with those of a site inlined. */
export function renderSurveys(script: string, surveys: readonly DeliveredSurvey[]): string {
  return script.replace(PLACE, () => JSON.stringify(surveys))
}
