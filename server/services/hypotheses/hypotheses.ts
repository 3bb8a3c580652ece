import type { HypothesesView, HypothesisSummary, HypothesisView, IdeaMetric } from '../../../shared/hypotheses/replies'
import { and, asc, desc, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm'
import { rank, rankByScore, weightedScore, type Place } from '../../../core/hypotheses/ranking'
import { assembleStatement } from '../../../core/hypotheses/statement'
import { pageRulesInWords } from '../../../core/targeting/pageWords'
import { readPage, readSegment } from '../../../shared/evidence/filter'
import type { HypothesisInput } from '../../../shared/hypotheses/hypothesis'
import type { Database, Queries } from '../../database/connect'
import { finding, hypothesis, hypothesisFinding } from '../../database/schema'
import { siteMembers } from '../accounts/siteMembers'
import { attachmentsOf } from '../attachments'
import { recordChange } from '../changes'
import { siteMetrics } from '../evidence/choices'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'
import { assess, type Readings } from './assess'
import { commentsOf } from './comments'
import { countStale, ideaKey, readFigures } from './ideaFigures'
import { experimentsOf } from './linkedExperiments'
import { GONE, lockHypothesis, type Target } from './lockHypothesis'
import { readPast, readTerms } from './terms'

const MOST_LISTED = 5000

type HypothesisRow = typeof hypothesis.$inferSelect

const findingCount = sql<number>`(SELECT count(*)::int FROM hypothesis_finding f WHERE f.site_id = "hypothesis"."site_id" AND f.hypothesis_id = "hypothesis"."id")`
const commentCount = sql<number>`(SELECT count(*)::int FROM hypothesis_comment c WHERE c.site_id = "hypothesis"."site_id" AND c.hypothesis_id = "hypothesis"."id")`

function readRows(database: Queries, siteId: number, condition?: SQL) {
  return database
    .select({
      own: hypothesis,
      owner: sql<string | null>`(SELECT o.name FROM person o WHERE o.id = "hypothesis"."owner_id")`,
      person: sql<string | null>`(SELECT p.name FROM person p WHERE p.id = "hypothesis"."created_by")`,
      findings: findingCount,
      comments: commentCount,
    })
    .from(hypothesis)
    .where(and(eq(hypothesis.siteId, siteId), isNull(hypothesis.deletedAt), condition))
    .orderBy(desc(hypothesis.id))
    .limit(MOST_LISTED)
}
type Row = Awaited<ReturnType<typeof readRows>>[number]

interface Context extends Readings {
  metrics: Map<string, IdeaMetric>
  figures: Awaited<ReturnType<typeof readFigures>>
}

async function readContext(database: Queries, siteId: number): Promise<Context> {
  const metrics = await siteMetrics(database, siteId)
  return {
    metrics: new Map(metrics.map((each) => [each.id, each])),
    figures: await readFigures(database, siteId),
    terms: await readTerms(database, siteId),
    past: await readPast(database, siteId),
  }
}

function assessed(row: HypothesisRow, { metrics, figures, terms, past }: Context) {
  const { pages, audience, metricId } = row
  const metric = metricId === null ? undefined : metrics.get(metricId)
  const known = metric && figures.get(ideaKey({ pages: pages ?? '', audience: audience ?? '', metricId: metric.id }))
  return metric && known ? assess(known, metric, row, { terms, past }) : null
}

type Unplaced = Omit<HypothesisSummary, 'place' | 'computed' | 'byWorth' | 'experiment'>

function summaryOf({ own, owner, person: by, findings, comments }: Row, context: Context): Unplaced {
  const { id, title, pages, audience, direction, low, likely, high, effortDays, strength, tags, stage } = own
  return {
    id,
    title,
    pages,
    audience,
    metric: own.metricId,
    direction,
    low,
    likely,
    high,
    effortDays,
    strength,

    tags,
    stage,
    owner: own.ownerId === null ? null : { id: own.ownerId, name: owner ?? '' },
    person: by,

    createdAt: own.createdAt.toISOString(),
    version: own.version,
    scores: own.scores,
    findings,
    comments,
    score: weightedScore(context.terms.criteria, own.scores),

    handPlace: own.handPlace,
    handReason: own.handReason,
    assessment: assessed(own, context),
  }
}

/** Places of hypotheses by what their team ranks by. What takes no effort and is worth something comes first. */
function placesOf(summaries: readonly Unplaced[], rankBy: 'worth' | 'score'): Place[] {
  if (rankBy === 'score') return rankByScore(summaries)
  return rank(
    summaries.map(({ id, handPlace, effortDays, assessment }) => {
      const { money, gain, moneyADay = null, gainADay = null } = assessment?.worth ?? {}
      const free = (expected: number | undefined) =>
        effortDays === 0 && expected !== undefined ? (expected > 0 ? Infinity : expected) : null
      return {
        id,
        handPlace,
        moneyADay: moneyADay ?? free(money?.expected),
        gainADay: gainADay ?? free(gain?.expected),
      }
    }),
  )
}

/** All hypotheses of a site in the order of their places, with what they are ranked by. */
export async function listHypotheses(database: Queries, siteId: number, now: Date): Promise<HypothesesView> {
  const context = await readContext(database, siteId)
  const rows = await readRows(database, siteId)
  const experiments = await experimentsOf(
    database,
    siteId,
    rows.map(({ own }) => own.id),
  )
  const summaries = new Map(rows.map((row) => [row.own.id, summaryOf(row, context)]))
  const { currency } = await findSite(database, siteId)
  const byWorth = new Map(placesOf([...summaries.values()], 'worth').map(({ id, computed }) => [id, computed]))
  return {
    hypotheses: placesOf([...summaries.values()], context.terms.rankBy).map(({ id, place, computed }) => ({
      ...summaries.get(id)!,

      place,
      computed,
      byWorth: byWorth.get(id)!,
      experiment: experiments.get(id)![0] ?? null,
    })),

    metrics: [...context.metrics.values()],
    terms: context.terms,
    past: context.past,
    currency,
    people: await siteMembers(database, siteId),
    stale: await countStale(database, siteId, now),
  }
}

/** @throws HttpProblem 404 for one that is not the site's */
export async function findHypothesis(
  database: Queries,
  siteId: number,
  hypothesisId: number,
  personId: number | null,
): Promise<HypothesisView> {
  const [row] = await readRows(database, siteId, eq(hypothesis.id, hypothesisId))
  if (!row) throw new HttpProblem(404, GONE)
  const context = await readContext(database, siteId)
  const { findings: _, comments: __, ...summary } = summaryOf(row, context)
  const findings = await database
    .select({ id: finding.id, title: finding.title, source: finding.source, page: finding.page })
    .from(hypothesisFinding)
    .innerJoin(finding, and(eq(finding.siteId, siteId), eq(finding.id, hypothesisFinding.findingId)))
    .where(and(eq(hypothesisFinding.siteId, siteId), eq(hypothesisFinding.hypothesisId, hypothesisId)))
    .orderBy(asc(finding.id))
  const experiments = (await experimentsOf(database, siteId, [hypothesisId])).get(hypothesisId)!
  const { change, reason, statement, stageReason } = row.own
  return {
    ...summary,
    change,
    reason,
    statement,
    stageReason,
    findings,
    experiments,
    assembled: assembleStatement({
      findings: findings.map(({ title }) => title),

      change,
      reason,
      direction: row.own.direction,
      metric: context.metrics.get(summary.metric ?? '')?.name ?? '',
      pages: pagesInWords(summary.pages),
      audience: audienceInWords(summary.audience),
    }),
    experiment: experiments[0] ?? null,
    comments: await commentsOf(database, siteId, hypothesisId, personId),
    attachments: await attachmentsOf(database, siteId, { hypothesisId }),
  }
}

function pagesInWords(pages: string | null): string {
  const rule = pages === null ? null : readPage(pages)
  return rule ? pageRulesInWords([rule]) : ''
}

/** Such as “phones and country IE”. */
function audienceInWords(audience: string | null): string {
  const parts = audience === null ? [] : (readSegment(audience) ?? [])
  return parts.map(({ name, value }) => (name === 'device' ? `${value}s` : `${name} ${value}`)).join(' and ')
}

/** Refuses what the site does not have, each with its field. */
export async function checkInput(
  database: Queries,
  siteId: number,
  { metric, owner, findings }: HypothesisInput,
): Promise<void> {
  const problems: Record<string, string> = {}
  const chosen = metric === null ? null : (await siteMetrics(database, siteId)).find(({ id }) => id === metric)
  if (chosen === undefined) problems.metric = 'This metric does not exist any more. Choose another one.'
  if (chosen?.kind === 'ratio')
    problems.metric = 'A ratio has no units that could be gained. Choose a metric that counts or adds up.'
  if (owner !== null && !(await siteMembers(database, siteId)).some(({ id }) => id === owner))
    problems.owner = 'This person is not a member any more. Choose another one.'
  if (findings.length > 0) {
    const known = await database
      .select({ id: finding.id })
      .from(finding)
      .where(and(eq(finding.siteId, siteId), inArray(finding.id, findings)))
    if (known.length < new Set(findings).size) problems.findings = 'One of the findings does not exist any more.'
  }
  const [first] = Object.values(problems)
  if (first) throw new HttpProblem(422, first, problems)
}

function columnsOf({ metric, owner, findings: _, ...fields }: HypothesisInput) {
  return { ...fields, metricId: metric, ownerId: owner }
}

/** Links findings, and marks those that nobody has taken up yet. */
async function saveFindings(tx: Queries, { siteId, hypothesisId, personId }: Target, findings: readonly number[]) {
  await tx
    .delete(hypothesisFinding)
    .where(and(eq(hypothesisFinding.siteId, siteId), eq(hypothesisFinding.hypothesisId, hypothesisId)))
  const ids = [...new Set(findings)]
  if (ids.length === 0) return
  await tx.insert(hypothesisFinding).values(ids.map((findingId) => ({ siteId, hypothesisId, findingId })))
  const taken = await tx
    .update(finding)
    .set({ state: 'taken up', version: sql`${finding.version} + 1` })
    .where(and(eq(finding.siteId, siteId), inArray(finding.id, ids), eq(finding.state, 'open')))
    .returning({ id: finding.id })
  for (const { id } of taken)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'finding',
      subjectId: id,
      action: 'changed',

      before: { state: 'open' },
      after: { state: 'taken up' },
    })
}

export async function createHypothesis(
  database: Database,
  { siteId, personId }: Pick<Target, 'siteId' | 'personId'>,
  input: HypothesisInput,
): Promise<HypothesisView> {
  return findHypothesis(database, siteId, await addHypothesis(database, { siteId, personId }, input), personId)
}

/** Writes a hypothesis down. @returns its id */
export async function addHypothesis(
  database: Database,
  { siteId, personId }: Pick<Target, 'siteId' | 'personId'>,
  input: HypothesisInput,
): Promise<number> {
  return database.transaction(async (tx) => {
    await checkInput(tx, siteId, input)
    const [made] = await tx
      .insert(hypothesis)
      .values({ ...columnsOf(input), siteId, createdBy: personId })
      .returning({ id: hypothesis.id })
    await saveFindings(tx, { siteId, hypothesisId: made!.id, personId }, input.findings)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: made!.id,
      action: 'created',
      after: { title: input.title },
    })
    return made!.id
  })
}

/** @throws HttpProblem 409 where somebody else has changed it since */
export async function updateHypothesis(
  database: Database,
  target: Target,
  { version, ...input }: HypothesisInput & { version: number },
): Promise<HypothesisView> {
  const { siteId, hypothesisId, personId } = target
  await database.transaction(async (tx) => {
    const before = await lockHypothesis(tx, target)
    await checkInput(tx, siteId, input)
    if (before.version !== version)
      throw new HttpProblem(409, 'Somebody else has changed this hypothesis. Reload it to see how it is now.')
    const columns = columnsOf(input)
    await tx
      .update(hypothesis)
      .set({ ...columns, version: version + 1 })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, hypothesisId)))
    await saveFindings(tx, target, input.findings)
    const changed = (Object.keys(columns) as (keyof typeof columns)[]).filter(
      (name) => JSON.stringify(columns[name]) !== JSON.stringify(before[name]),
    )
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: hypothesisId,
      action: 'changed',
      before: Object.fromEntries(changed.map((name) => [name, before[name]])),
      after: Object.fromEntries(changed.map((name) => [name, columns[name]])),
      words:
        changed.length > 0 ? `changed ${changed.map((name) => COLUMN_WORDS[name]).join(', ')}` : 'changed the findings',
    })
  })
  return findHypothesis(database, siteId, hypothesisId, personId)
}

const COLUMN_WORDS: Record<keyof ReturnType<typeof columnsOf>, string> = {
  title: 'the title',
  change: 'the change',
  reason: 'the reason',
  statement: 'the statement',

  pages: 'the pages',
  audience: 'the audience',
  metricId: 'the metric',
  direction: 'the direction',

  low: 'the low lift',
  likely: 'the likely lift',
  high: 'the high lift',
  effortDays: 'the effort',

  strength: 'the strength of the evidence',
  tags: 'the tags',
  ownerId: 'the owner',
  scores: 'the scores',
}

/** Takes a hypothesis out of sight; `restoreHypothesis` brings it back. */
export async function deleteHypothesis(database: Database, target: Target): Promise<void> {
  const { siteId, hypothesisId, personId } = target
  await database.transaction(async (tx) => {
    const { title } = await lockHypothesis(tx, target)
    await tx
      .update(hypothesis)
      .set({ deletedAt: new Date() })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, hypothesisId)))
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: hypothesisId,
      action: 'deleted',
      before: { title },
    })
  })
}

export async function restoreHypothesis(database: Database, target: Target): Promise<HypothesisView> {
  const { siteId, hypothesisId, personId } = target
  await database.transaction(async (tx) => {
    const restored = await tx
      .update(hypothesis)
      .set({ deletedAt: null })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, hypothesisId)))
      .returning({ id: hypothesis.id })
    if (restored.length === 0) throw new HttpProblem(404, GONE)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'hypothesis',
      subjectId: hypothesisId,
      action: 'restored',
    })
  })
  return findHypothesis(database, siteId, hypothesisId, personId)
}
