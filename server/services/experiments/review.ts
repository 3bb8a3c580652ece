import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { ApprovalView, ReviewView } from '../../../shared/experiments/reviewReplies'
import { createHash } from 'node:crypto'
import { and, asc, eq, isNull } from 'drizzle-orm'
import { alias } from 'drizzle-orm/pg-core'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import { contentOf } from '../../../shared/experiments/experiment'
import type { Database, Queries } from '../../database/connect'
import { approval, experiment, experimentComment, person } from '../../database/schema'
import { mentionedIn } from '../accounts/mentions'
import { siteMembers } from '../accounts/siteMembers'
import { HttpProblem } from '../HttpProblem'
import { tell, type Happened } from '../notifications/tell'
import { findSheet, type Target } from './sheet'

const asker = alias(person, 'asker')
const ofExperiment = ({ siteId, experimentId }: Pick<Target, 'siteId' | 'experimentId'>) =>
  and(eq(approval.siteId, siteId), eq(approval.experimentId, experimentId))

/** What was said of an experiment, the earliest first, and who was asked to approve it. */
export async function readReview(database: Queries, target: Target): Promise<ReviewView> {
  const { siteId, personId } = target
  const sheet = await findSheet(database, siteId, target.experimentId)
  const people = await siteMembers(database, siteId)
  const names = new Map(people.map(({ id, name }) => [id, name]))
  const rows = await database
    .select({ own: experimentComment, person: person.name })
    .from(experimentComment)
    .leftJoin(person, eq(person.id, experimentComment.personId))
    .where(and(eq(experimentComment.siteId, siteId), eq(experimentComment.experimentId, sheet.id)))
    .orderBy(asc(experimentComment.id))
  return {
    comments: rows.map(({ own, person: name }) => ({
      id: own.id,
      person: name,
      isOwn: own.personId !== null && own.personId === personId,
      words: own.words,
      mentions: own.mentions.flatMap((each) => names.get(each) ?? []),
      createdAt: own.createdAt.toISOString(),
    })),
    approvals: await approvalsOf(database, sheet, personId),
    people,
  }
}

async function approvalsOf(database: Queries, sheet: ExperimentSheet, reader: number | null): Promise<ApprovalView[]> {
  const digest = digestOf(sheet)
  const rows = await database
    .select({ own: approval, person: person.name, askedBy: asker.name })
    .from(approval)
    .innerJoin(person, eq(person.id, approval.personId))
    .leftJoin(asker, eq(asker.id, approval.askedBy))
    .where(ofExperiment({ siteId: sheet.siteId, experimentId: sheet.id }))
    .orderBy(asc(approval.id))
  return rows.map(({ own, person: name, askedBy }) => ({
    id: own.id,
    personId: own.personId,
    person: name,
    isOwn: own.personId === reader,
    askedBy,

    askedAt: own.askedAt.toISOString(),
    answer: own.answer,
    words: own.words,
    answeredAt: own.answeredAt?.toISOString() ?? null,
    isOutdated: own.answer !== null && own.digest !== digest,
  }))
}

/** Of everything that the start freezes: a new name or hypothesis asks for no new approval. */
function digestOf(sheet: ExperimentSheet): string {
  const { name: _name, hypothesis: _hypothesis, ...frozen } = contentOf(sheet)
  return createHash('sha256').update(JSON.stringify(frozen)).digest('hex')
}

/** Says something of an experiment. Members whose names stand in it behind an @ are mentioned, and told so. */
export async function addComment(database: Database, target: Target, words: string): Promise<ReviewView> {
  const { siteId, experimentId, personId } = target
  const { name: title } = await findSheet(database, siteId, experimentId)
  const mentions = mentionedIn(words, await siteMembers(database, siteId))
  await database.transaction(async (tx) => {
    await tx.insert(experimentComment).values({ siteId, experimentId, personId, words, mentions })
    if (mentions.length > 0) await tellAsked(tx, target, { kind: 'mentioned', title, text: words, to: mentions })
  })
  return readReview(database, target)
}

/** Tells those whom somebody turns to, by name. */
async function tellAsked(
  tx: Queries,
  { siteId, experimentId, personId }: Target,
  asked: Pick<Happened, 'kind' | 'title' | 'text' | 'to'>,
): Promise<void> {
  const path = `/experiments/${experimentId}#review`
  await tell(tx, { ...asked, siteId, experimentId, path, at: new Date(), by: personId })
}

/** Takes back what somebody has said themselves. */
export async function deleteComment(database: Database, target: Target, commentId: number): Promise<void> {
  const { siteId, experimentId, personId } = target
  const deleted =
    personId === null
      ? []
      : await database
          .delete(experimentComment)
          .where(
            and(
              eq(experimentComment.siteId, siteId),
              eq(experimentComment.experimentId, experimentId),
              eq(experimentComment.id, commentId),
              eq(experimentComment.personId, personId),
            ),
          )
          .returning({ id: experimentComment.id })
  if (deleted.length === 0) throw new HttpProblem(404, 'There is no such comment of yours.')
}

/**
 * Asks a member to approve a draft. Whoever has answered is asked once more.
 *
 * @throws HttpProblem 422 for somebody who is no member; 409 once it was started
 */
export async function askApproval(database: Database, target: Target, askedPerson: number): Promise<ReviewView> {
  const { siteId, experimentId, personId } = target
  const { name: title, state } = await findSheet(database, siteId, experimentId)
  if (state !== 'draft')
    throw new HttpProblem(409, 'This experiment was started: there is nothing to approve any more.')
  if (!(await siteMembers(database, siteId)).some(({ id }) => id === askedPerson))
    throw new HttpProblem(422, 'This person is no member of the team.', { person: 'Choose a member of the team.' })
  const anew = { askedBy: personId, askedAt: new Date(), answer: null, words: '', digest: null, answeredAt: null }
  await database.transaction(async (tx) => {
    await tx
      .insert(approval)
      .values({ siteId, experimentId, personId: askedPerson, ...anew })
      .onConflictDoUpdate({
        target: [approval.experimentId, approval.personId],
        set: anew,
        setWhere: eq(approval.siteId, siteId),
      })
    await tellAsked(tx, target, { kind: 'approval', title, text: 'Look at it before it starts.', to: [askedPerson] })
  })
  return readReview(database, target)
}

/** What whoever was asked says of the sheet as it is. */
export async function answerApproval(
  database: Database,
  target: Target,
  { answer, words }: { answer: 'approved' | 'changes'; words: string },
): Promise<ReviewView> {
  const { siteId, experimentId, personId } = target
  const sheet = await findSheet(database, siteId, experimentId)
  const answered =
    personId === null
      ? []
      : await database
          .update(approval)
          .set({ answer, words, digest: digestOf(sheet), answeredAt: new Date() })
          .where(and(ofExperiment({ siteId, experimentId }), eq(approval.personId, personId)))
          .returning({ id: approval.id })
  if (answered.length === 0) throw new HttpProblem(404, 'Nobody asks you to approve this experiment any more.')
  return readReview(database, target)
}

export async function withdrawApproval(
  database: Database,
  target: Pick<Target, 'siteId' | 'experimentId'>,
  approvalId: number,
): Promise<void> {
  const gone = await database
    .delete(approval)
    .where(and(ofExperiment(target), eq(approval.id, approvalId)))
    .returning({ id: approval.id })
  if (gone.length === 0) throw new HttpProblem(404, 'This person is not asked any more.')
}

/** How a finding ends that says whose answer is waited for. */
export const NOT_ANSWERED = 'was asked to approve and has not answered yet.'

/** What approvals say before a start: changes that somebody asks for stop it until they approve or are asked no longer. */
export async function approvalFindings(database: Queries, sheet: ExperimentSheet): Promise<PreflightFinding[]> {
  const approvals = await approvalsOf(database, sheet, null)
  return approvals.flatMap(({ person: name, answer, words, isOutdated }): PreflightFinding[] => {
    const say = (text: string, isStop: boolean): PreflightFinding[] => [{ section: 'decided', isStop, text }]
    if (answer === null) return say(`${name} ${NOT_ANSWERED}`, false)
    if (answer === 'changes')
      return say(`${name} asks for changes: ${words} Ask them again once it is done, or ask them no longer.`, true)
    return isOutdated ? say(`${name} approved of the sheet as it was before its last changes. Ask again.`, false) : []
  })
}

/** Drafts that wait for somebody's answer. */
export async function openApprovals(
  database: Queries,
  siteId: number,
  personId: number,
): Promise<{ experimentId: number; name: string; by: string | null }[]> {
  return database
    .select({ experimentId: experiment.id, name: experiment.name, by: asker.name })
    .from(approval)
    .innerJoin(
      experiment,
      and(eq(experiment.siteId, siteId), eq(experiment.id, approval.experimentId), isNull(experiment.deletedAt)),
    )
    .leftJoin(asker, eq(asker.id, approval.askedBy))
    .where(
      and(
        eq(approval.siteId, siteId),
        eq(approval.personId, personId),
        isNull(approval.answer),
        eq(experiment.state, 'draft'),
      ),
    )
    .orderBy(asc(approval.id))
}
