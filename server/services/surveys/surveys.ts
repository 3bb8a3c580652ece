import type { SurveyView } from '../../../shared/surveys/replies'
import { and, desc, eq } from 'drizzle-orm'
import type { InferType } from 'yup'
import type { SurveyContent, surveyChangeSchema, surveySchema } from '../../../shared/surveys/survey'
import type { Database, Queries } from '../../database/connect'
import { person, survey } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { compileSiteFile } from '../sites/compileSiteFile'

const GONE = 'This survey does not exist any more.'

interface Target {
  siteId: number
  surveyId: number
  personId: number | null
}

function rowsOf(database: Queries, siteId: number, surveyId?: number) {
  return database
    .select({ own: survey, person: person.name })
    .from(survey)
    .leftJoin(person, eq(person.id, survey.createdBy))
    .where(and(eq(survey.siteId, siteId), surveyId === undefined ? undefined : eq(survey.id, surveyId)))
    .orderBy(desc(survey.id))
}
type Row = Awaited<ReturnType<typeof rowsOf>>[number]

function viewOf({ own, person: name }: Row): SurveyView {
  const { id, name: called, state, content, version, createdAt, startedAt, endedAt } = own
  return {
    id,
    name: called,
    state,
    content,
    version,
    person: name,
    createdAt: createdAt.toISOString(),
    startedAt: startedAt?.toISOString() ?? null,
    endedAt: endedAt?.toISOString() ?? null,
  }
}

/** A site's surveys, the latest first. */
export async function listSurveys(database: Queries, siteId: number): Promise<SurveyView[]> {
  return (await rowsOf(database, siteId)).map(viewOf)
}

/** @throws HttpProblem 404 for one that is not the site's */
export async function findSurvey(database: Queries, siteId: number, surveyId: number): Promise<SurveyView> {
  const [row] = await rowsOf(database, siteId, surveyId)
  if (!row) throw new HttpProblem(404, GONE)
  return viewOf(row)
}

export async function createSurvey(
  database: Database,
  siteId: number,
  personId: number | null,
  { name, content }: InferType<typeof surveySchema>,
): Promise<SurveyView> {
  const id = await database.transaction(async (tx) => {
    const [made] = await tx
      .insert(survey)
      .values({ siteId, name, content: content as SurveyContent, createdBy: personId })
      .returning()
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'survey',
      subjectId: made!.id,
      action: 'added',
      after: { name, content },
    })
    return made!.id
  })
  return findSurvey(database, siteId, id)
}

/**
 * Changes what a survey asks, whom and when. Of one that runs, browsers go by it within minutes; answers are counted by
 * the ids of questions and choices, which stay.
 *
 * @throws HttpProblem 409 where somebody else has changed it since
 */
export async function updateSurvey(
  database: Database,
  target: Target,
  { name, content, version }: InferType<typeof surveyChangeSchema>,
): Promise<SurveyView> {
  const { siteId, surveyId, personId } = target
  await database.transaction(async (tx) => {
    const before = await findSurvey(tx, siteId, surveyId)
    const changed = await tx
      .update(survey)
      .set({ name, content: content as SurveyContent, version: version + 1 })
      .where(and(eq(survey.siteId, siteId), eq(survey.id, surveyId), eq(survey.version, version)))
      .returning({ id: survey.id })
    if (changed.length === 0)
      throw new HttpProblem(409, 'Somebody else has changed this survey. Reload it to see how it is now.')
    if (before.state === 'running') await compileSiteFile(tx, siteId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'survey',
      subjectId: surveyId,
      action: 'changed',
      before: { name: before.name, content: before.content },
      after: { name, content },
    })
  })
  return findSurvey(database, siteId, surveyId)
}

/**
 * Shows a survey to visitors from now on, or to nobody any more. One that has ended may begin again.
 *
 * @param version - of what is to be started
 * @throws HttpProblem 409 where it is another by now
 */
export async function setSurveyState(
  database: Database,
  { siteId, surveyId, personId }: Target,
  state: 'running' | 'ended',
  now: Date,
  version?: number,
): Promise<SurveyView> {
  await database.transaction(async (tx) => {
    const before = await findSurvey(tx, siteId, surveyId)
    if (before.state === state || (state === 'ended' && before.state === 'draft'))
      throw new HttpProblem(409, state === 'running' ? 'This survey runs already.' : 'This survey does not run.')
    const startedAt = before.startedAt ? new Date(before.startedAt) : now
    const ofVersion = state === 'running' && version !== undefined ? eq(survey.version, version) : undefined
    const turned = await tx
      .update(survey)
      .set(state === 'running' ? { state, startedAt, endedAt: null } : { state, endedAt: now })
      .where(and(eq(survey.siteId, siteId), eq(survey.id, surveyId), ofVersion))
      .returning({ id: survey.id })
    if (turned.length === 0)
      throw new HttpProblem(
        409,
        'Somebody else has changed this survey. Reload it to see how it is now, then start it.',
      )
    await compileSiteFile(tx, siteId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'survey',
      subjectId: surveyId,
      action: state === 'running' ? 'started' : 'ended',
    })
  })
  return findSurvey(database, siteId, surveyId)
}

/** @throws HttpProblem 409 for one that was ever shown: its answers are kept */
export async function deleteSurvey(database: Database, { siteId, surveyId, personId }: Target): Promise<void> {
  await database.transaction(async (tx) => {
    const before = await findSurvey(tx, siteId, surveyId)
    if (before.startedAt) throw new HttpProblem(409, 'This survey has been shown. End it instead; its answers stay.')
    await tx.delete(survey).where(and(eq(survey.siteId, siteId), eq(survey.id, surveyId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'survey',
      subjectId: surveyId,
      action: 'deleted',
      before: { name: before.name, content: before.content },
    })
  })
}
