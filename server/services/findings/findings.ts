import type { FindingsView, FindingSummary, FindingView } from '../../../shared/findings/replies'
import { and, asc, desc, eq, isNull, sql, type SQL } from 'drizzle-orm'
import type { InferType } from 'yup'
import type { findingChangeSchema, FindingInput, findingsQuery, FrozenView } from '../../../shared/findings/finding'
import type { Database, Queries } from '../../database/connect'
import { containing } from '../../database/containing'
import { attachment, finding, person } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { attachmentsOf } from '../attachments'

const GONE = 'This finding does not exist any more.'
const MOST_LISTED = 1000

interface Target {
  siteId: number
  findingId: number
  personId: number | null
}

const pictureOf = sql<number | null>`(SELECT max(a.id) FROM ${attachment} a
  WHERE a.site_id = ${finding.siteId} AND a.finding_id = ${finding.id} AND a.is_picture)`
const attachmentsCount = sql<number>`(SELECT count(*)::int FROM ${attachment} a
  WHERE a.site_id = ${finding.siteId} AND a.finding_id = ${finding.id} AND NOT a.is_picture)`
// Drizzle names the outer table in a query of one table by its columns alone.
const mergedCount = sql<number>`(SELECT count(*)::int FROM finding m WHERE m.site_id = "finding"."site_id" AND m.merged_into = "finding"."id")`

function summaryRows(database: Queries, siteId: number, conditions: readonly SQL[]) {
  return database
    .select({
      own: finding,
      person: person.name,
      picture: pictureOf,
      attachments: attachmentsCount,
      merged: mergedCount,
    })
    .from(finding)
    .leftJoin(person, eq(person.id, finding.createdBy))
    .where(and(eq(finding.siteId, siteId), ...conditions))
    .orderBy(desc(finding.createdAt), desc(finding.id))
    .limit(MOST_LISTED)
}
type Row = Awaited<ReturnType<typeof summaryRows>>[number]

function summaryOf({ own, person: name, picture, attachments, merged }: Row): FindingSummary {
  const { id, title, severity, state, source, tags, page, createdAt } = own
  return {
    id,
    title,
    severity,
    state,
    source,
    tags,
    page,
    person: name,
    createdAt: createdAt.toISOString(),

    picture,
    attachments,
    merged,
  }
}

/** Findings of a site, the latest first; those that were merged into another are found with it. */
export async function listFindings(
  database: Queries,
  siteId: number,
  { search, page, tag, source, state }: InferType<typeof findingsQuery>,
): Promise<FindingsView> {
  const conditions: SQL[] = [isNull(finding.mergedInto)]
  for (const word of search?.trim().split(/\s+/).filter(Boolean) ?? []) {
    const pattern = containing(word)
    // What was merged into it is searched with it.
    conditions.push(sql`EXISTS (SELECT FROM finding s WHERE s.site_id = ${siteId}
      AND (s.id = "finding"."id" OR s.merged_into = "finding"."id")
      AND concat_ws(' ', s.title, s.words, s.page, array_to_string(s.tags, ' ')) ILIKE ${pattern})`)
  }
  if (page) conditions.push(eq(finding.page, page))
  if (tag) conditions.push(sql`${tag} = ANY(${finding.tags})`)
  if (source) conditions.push(eq(finding.source, source))
  if (state) conditions.push(eq(finding.state, state))
  const rows = await summaryRows(database, siteId, conditions)
  const all = await database
    .select({ tags: finding.tags, page: finding.page })
    .from(finding)
    .where(eq(finding.siteId, siteId))
  const sorted = (values: (string | null)[]) => [...new Set(values.filter((each) => each !== null))].sort()
  return {
    findings: rows.map(summaryOf),
    tags: sorted(all.flatMap(({ tags }) => tags)),
    pages: sorted(all.map((each) => each.page)),
  }
}

/** @throws HttpProblem 404 for one that is not the site's */
export async function findFinding(database: Queries, siteId: number, findingId: number): Promise<FindingView> {
  const [row] = await summaryRows(database, siteId, [eq(finding.id, findingId)])
  if (!row) throw new HttpProblem(404, GONE)
  const { words, version, frozen, pin, mergedInto } = row.own
  const merged = await database
    .select({ id: finding.id, title: finding.title, person: person.name })
    .from(finding)
    .leftJoin(person, eq(person.id, finding.createdBy))
    .where(and(eq(finding.siteId, siteId), eq(finding.mergedInto, findingId)))
    .orderBy(asc(finding.id))
  const [into] =
    mergedInto === null
      ? []
      : await database
          .select({ id: finding.id, title: finding.title })
          .from(finding)
          .where(and(eq(finding.siteId, siteId), eq(finding.id, mergedInto)))
  return {
    ...summaryOf(row),

    words,
    version,
    frozen,
    pin,
    into: into ?? null,
    merged,
    attachments: await attachmentsOf(database, siteId, { findingId }),
  }
}

export async function createFinding(
  database: Database,
  siteId: number,
  personId: number | null,
  input: Omit<FindingInput, 'frozen'> & { frozen: FrozenView | null },
): Promise<FindingView> {
  const source = input.frozen ? 'view' : input.pin ? 'page' : 'note'
  const id = await database.transaction(async (tx) => {
    const [made] = await tx
      .insert(finding)
      .values({ ...input, siteId, source, createdBy: personId })
      .returning({ id: finding.id })
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'finding',
      subjectId: made!.id,
      action: 'added',
      after: { title: input.title },
    })
    return made!.id
  })
  return findFinding(database, siteId, id)
}

/** @throws HttpProblem 409 where somebody else has changed it since */
export async function updateFinding(
  database: Database,
  target: Target,
  { version, ...fields }: InferType<typeof findingChangeSchema>,
): Promise<FindingView> {
  const { siteId, findingId, personId } = target
  await database.transaction(async (tx) => {
    const { title, words, severity, state, tags, page } = await findFinding(tx, siteId, findingId)
    const changed = await tx
      .update(finding)
      .set({ ...fields, version: version + 1 })
      .where(and(eq(finding.siteId, siteId), eq(finding.id, findingId), eq(finding.version, version)))
      .returning({ id: finding.id })
    if (changed.length === 0)
      throw new HttpProblem(409, 'Somebody else has changed this finding. Reload it to see how it is now.')
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'finding',
      subjectId: findingId,
      action: 'changed',
      before: { title, words, severity, state, tags, page },
      after: fields,
    })
  })
  return findFinding(database, siteId, findingId)
}

/** Deletes a finding with its files; those that were merged into it stand by themselves again. */
export async function deleteFinding(database: Database, { siteId, findingId, personId }: Target): Promise<void> {
  await database.transaction(async (tx) => {
    const { title } = await findFinding(tx, siteId, findingId)
    await tx
      .update(finding)
      .set({ mergedInto: null })
      .where(and(eq(finding.siteId, siteId), eq(finding.mergedInto, findingId)))
    await tx.delete(finding).where(and(eq(finding.siteId, siteId), eq(finding.id, findingId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'finding',
      subjectId: findingId,
      action: 'deleted',
      before: { title },
    })
  })
}

/**
 * Merges a finding into another that says the same, or takes it out again. What was merged into it goes along.
 *
 * @throws HttpProblem 422 for a finding into itself, or into one that is merged itself
 */
export async function mergeFinding(
  database: Database,
  { siteId, findingId, personId }: Target,
  into: number | null,
): Promise<FindingView> {
  await database.transaction(async (tx) => {
    const before = await findFinding(tx, siteId, findingId)
    if (into !== null) {
      const other = await findFinding(tx, siteId, into)
      if (into === findingId || other.into)
        throw new HttpProblem(422, 'Choose another finding, one that is not merged into a third.')
      await tx
        .update(finding)
        .set({ mergedInto: into })
        .where(and(eq(finding.siteId, siteId), eq(finding.mergedInto, findingId)))
    }
    await tx
      .update(finding)
      .set({ mergedInto: into })
      .where(and(eq(finding.siteId, siteId), eq(finding.id, findingId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'finding',
      subjectId: findingId,
      action: into === null ? 'parted' : 'merged',
      before: { into: before.into?.id ?? null },
      after: { into },
    })
  })
  return findFinding(database, siteId, findingId)
}
