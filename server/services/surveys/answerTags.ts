import { and, asc, eq, sql } from 'drizzle-orm'
import type { InferType } from 'yup'
import type { answerTagSchema } from '../../../shared/surveys/answerTag'
import type { Database, Queries } from '../../database/connect'
import { answerTag } from '../../database/schema'
import { findSurvey } from './surveys'

/** Puts a tag on written answers, or takes it off. Twice is as once. */
export async function tagAnswers(
  database: Database,
  { siteId, surveyId, personId }: { siteId: number; surveyId: number; personId: number | null },
  { question, answers, tag, isOn }: InferType<typeof answerTagSchema>,
): Promise<void> {
  await findSurvey(database, siteId, surveyId)
  if (isOn) {
    await database
      .insert(answerTag)
      .values(
        answers.map(({ visitor, session, at }) => ({
          siteId,
          surveyId,
          question,
          visitorId: visitor,
          sessionId: session,
          tag,
          // Never later than now: it is kept as long as the answer, and no longer.
          answeredAt: new Date(Math.min(at, Date.now())),
          createdBy: personId,
        })),
      )
      .onConflictDoNothing()
    return
  }
  const own = sql`(${answerTag.visitorId}, ${answerTag.sessionId}) IN (
    SELECT * FROM unnest(${sql.param(answers.map(({ visitor }) => visitor))}::text[],
      ${sql.param(answers.map(({ session }) => session))}::text[]))`
  await database
    .delete(answerTag)
    .where(
      and(
        eq(answerTag.siteId, siteId),
        eq(answerTag.surveyId, surveyId),
        eq(answerTag.question, question),
        eq(answerTag.tag, tag),
        own,
      ),
    )
}

/** Under what the tags of an answer are found. */
export const answerKey = (question: string, visitor: string, session: string) => `${question} ${visitor} ${session}`

/** Tags of the written answers of a survey, by `answerKey`. */
export async function tagsOfAnswers(
  database: Queries,
  siteId: number,
  surveyId: number,
): Promise<Map<string, string[]>> {
  const rows = await database
    .select()
    .from(answerTag)
    .where(and(eq(answerTag.siteId, siteId), eq(answerTag.surveyId, surveyId)))
    .orderBy(asc(answerTag.tag))
  const tags = new Map<string, string[]>()
  for (const { question, visitorId, sessionId, tag } of rows) {
    const key = answerKey(question, visitorId, sessionId)
    tags.set(key, [...(tags.get(key) ?? []), tag])
  }
  return tags
}
