import type { CommentView } from '../../../shared/hypotheses/replies'
import { and, asc, desc, eq, gt, inArray, isNull, sql } from 'drizzle-orm'
import type { Database, Queries } from '../../database/connect'
import { hypothesis, hypothesisComment, person } from '../../database/schema'
import { siteMembers } from '../accounts/siteMembers'
import { mentionedIn } from '../accounts/mentions'
import { HttpProblem } from '../HttpProblem'
import { tell } from '../notifications/tell'
import { lockHypothesis, type Target } from './lockHypothesis'
import { DAY } from '../../../core/time/units'

/** What was said of a hypothesis, the earliest first. */
export async function commentsOf(
  database: Queries,
  siteId: number,
  hypothesisId: number,
  reader: number | null,
): Promise<CommentView[]> {
  const rows = await database
    .select({ own: hypothesisComment, person: person.name })
    .from(hypothesisComment)
    .leftJoin(person, eq(person.id, hypothesisComment.personId))
    .where(and(eq(hypothesisComment.siteId, siteId), eq(hypothesisComment.hypothesisId, hypothesisId)))
    .orderBy(asc(hypothesisComment.id))
  const mentioned = [...new Set(rows.flatMap(({ own }) => own.mentions))]
  const people =
    mentioned.length === 0
      ? []
      : await database.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, mentioned))
  const names = new Map(people.map(({ id, name }) => [id, name]))
  return rows.map(({ own: { id, personId, words, mentions, createdAt }, person: name }) => ({
    id,
    person: name,
    isOwn: personId !== null && personId === reader,
    words,
    mentions: mentions.flatMap((each) => names.get(each) ?? []),
    createdAt: createdAt.toISOString(),
  }))
}

/** Says something of a hypothesis. Members whose names stand in it behind an @ are mentioned, and told so. */
export async function addComment(database: Database, target: Target, words: string): Promise<CommentView[]> {
  const { siteId, hypothesisId, personId } = target
  await database.transaction(async (tx) => {
    const { title } = await lockHypothesis(tx, target)
    const mentions = mentionedIn(words, await siteMembers(tx, siteId))
    await tx.insert(hypothesisComment).values({ siteId, hypothesisId, personId, words, mentions })
    if (mentions.length === 0) return
    await tell(tx, {
      siteId,
      experimentId: null,
      kind: 'mentioned',
      title,
      text: words,
      path: `/hypotheses/${hypothesisId}`,
      at: new Date(),
      by: personId,
      to: mentions,
    })
  })
  return commentsOf(database, siteId, hypothesisId, personId)
}

const MENTION_DAYS = 14

/** Hypotheses in which somebody was mentioned lately and has not said anything since. */
export async function openMentions(
  database: Queries,
  siteId: number,
  personId: number,
  now: Date,
): Promise<{ hypothesisId: number; title: string; words: string; by: string | null }[]> {
  const since = new Date(now.getTime() - MENTION_DAYS * DAY)
  return database
    .selectDistinctOn([hypothesisComment.hypothesisId], {
      hypothesisId: hypothesisComment.hypothesisId,
      title: hypothesis.title,
      words: hypothesisComment.words,
      by: person.name,
    })
    .from(hypothesisComment)
    .innerJoin(
      hypothesis,
      and(
        eq(hypothesis.siteId, siteId),
        eq(hypothesis.id, hypothesisComment.hypothesisId),
        isNull(hypothesis.deletedAt),
      ),
    )
    .leftJoin(person, eq(person.id, hypothesisComment.personId))
    .where(
      and(
        eq(hypothesisComment.siteId, siteId),
        sql`${personId} = ANY(${hypothesisComment.mentions})`,
        sql`${hypothesisComment.personId} IS DISTINCT FROM ${personId}`,
        gt(hypothesisComment.createdAt, since),
        sql`NOT EXISTS (SELECT FROM hypothesis_comment a WHERE a.site_id = ${siteId}
          AND a.hypothesis_id = ${hypothesisComment.hypothesisId} AND a.person_id = ${personId} AND a.id > ${hypothesisComment.id})`,
      ),
    )
    .orderBy(hypothesisComment.hypothesisId, desc(hypothesisComment.id))
}

/** Takes back what somebody has said themselves. */
export async function deleteComment(database: Database, target: Target, commentId: number): Promise<void> {
  const { siteId, hypothesisId, personId } = target
  const deleted =
    personId === null
      ? []
      : await database
          .delete(hypothesisComment)
          .where(
            and(
              eq(hypothesisComment.siteId, siteId),
              eq(hypothesisComment.hypothesisId, hypothesisId),
              eq(hypothesisComment.id, commentId),
              eq(hypothesisComment.personId, personId),
            ),
          )
          .returning({ id: hypothesisComment.id })
  if (deleted.length === 0) throw new HttpProblem(404, 'There is no such comment of yours.')
}
