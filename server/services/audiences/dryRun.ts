import { and, eq, isNotNull } from 'drizzle-orm'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { DecisionView, DryRunRow, DryRunView, PastDryRunView } from '../../../shared/audiences/replies'
import type { ExclusionGroupView } from '../../../shared/traffic/replies'
import { weeksUntil } from '../../../core/sheet/planReading'
import { firstBuckets, takeBuckets } from '../../../core/assignment/bucketSpace'
import { isProven, personId } from '../../../core/identity/personId'
import { keyedPerson } from '../../../core/identity/provenPerson'
import { activationInWords } from '../../../core/targeting/activation'
import { conditionInWords, FACT_WORDS } from '../../../core/targeting/conditionWords'
import { measuredVariants, wholeAudience, wordingAudiences } from '../../../core/sheet/wordings'
import { dryRun, type DryRunThing } from '../../../core/targeting/dryRun'
import { factsOfPersona, type Persona } from '../../../core/targeting/persona'
import { replayTerms, replayVisitor, unknownFromPast } from '../../../core/targeting/replay'
import { matchesPage } from '../../../core/targeting/pageRule'
import type { GroupPlace, Reason, TestShare } from '../../../core/targeting/whyNot'
import { BEHAVIOR_SALT, RECORDING_SALT } from '../../../shared/delivery/siteFile'
import type { Database } from '../../database/connect'
import { exposure } from '../../database/schema'
import { lookAtTraffic } from '../experiments/lookAtTraffic'
import { saltsOf } from '../experiments/salts'
import { findSheet, listSheets } from '../experiments/sheet'
import { HttpProblem } from '../HttpProblem'
import { findPersonKey } from '../sites/personKey'
import { findSite } from '../sites/sites'
import { liveRollouts, servedOrderOf } from '../rollouts/liveRollouts'
import { surveySalt } from '../surveys/runningSurveys'
import { listSurveys } from '../surveys/surveys'
import { groupSalts, listGroups } from '../traffic/groups'
import { inServedOrder } from '../../../core/sheet/servedOrder'
import { holdoutsOf } from '../traffic/heldOut'
import { audienceNames, visitorsSince } from './audienceSize'
import { pastOfVisitors } from './pastOfVisitors'
import { audienceInliner } from './savedAudiences'
import { DAY } from '../../../core/time/units'

type Named = DryRunThing & Pick<DryRunRow, 'kind' | 'name' | 'state'> & { variants: readonly string[] }

/**
 * What a made-up visitor would get on a page of everything that runs, and of drafts as if they had been started now.
 *
 * @param visitor - id that buckets are drawn by
 * @param address - of a page of the site, or its path
 */
export async function dryRunPersona(
  database: Database,
  siteId: number,
  persona: Persona,
  visitor: string,
  address: string,
  now: Date,
): Promise<DryRunView> {
  const { facts, person, things } = await asked(database, siteId, persona, address, now)
  const answers = dryRun(things, visitor, facts, undefined, person)
  const rows = things.map(({ kind, id, name, state, variants, activation }, index): DryRunRow => {
    const { reason, variant, trace } = answers[index]!
    return {
      kind,
      id,
      name,
      state,
      reason,
      trace,
      variant: variant === null ? null : variants[variant]!,
      activation: activation ? activationInWords(activation) : null,
    }
  })
  return { address: facts.address!, visitor, rows }
}

async function asked(database: Database, siteId: number, persona: Persona, address: string, now: Date) {
  const { address: origin, key, timeZone, adParameters } = await findSite(database, siteId)
  const onSite = (page: string): string => {
    if (!URL.canParse(page, origin)) throw refusedAddress()
    return new URL(page, origin).href
  }
  const landing = persona.landing === undefined ? undefined : onSite(persona.landing)
  const moment = { now: now.getTime(), address: onSite(address), siteTimeZone: timeZone, adParameters }
  const pages = persona.pages?.map((each) => ({ ...each, address: onSite(each.address) }))
  const facts = factsOfPersona({ ...persona, landing, pages }, moment)
  const person = persona.person === undefined ? undefined : await personOf(database, siteId, key, persona.person)
  return { facts, person, things: await everything(database, siteId, now) }
}

/** What stands for a person by the id that they are known by: where the site asks for proof, as its own server makes it. */
async function personOf(database: Database, siteId: number, siteKey: string, id: string): Promise<string> {
  const personKey = await findPersonKey(database, siteId)
  return personKey === null || isProven(id) ? personId(siteKey, id) : keyedPerson(id, personKey)
}

function refusedAddress(): HttpProblem {
  const message = 'Type a page of the site, such as /book, or a whole address.'
  return new HttpProblem(422, message, { address: message })
}

/** What a visitor gets on a page of what runs, by the same code as in their browser. */
export async function decideFor(
  database: Database,
  siteId: number,
  visitor: string,
  persona: Persona,
  address: string,
  now: Date,
): Promise<DecisionView[]> {
  const { facts, person, things } = await asked(database, siteId, persona, address, now)
  const served = new Map((await liveRollouts(database, siteId)).map((each) => [each.row.id, each]))
  const running = things.filter(
    ({ kind, state }) => kind === 'rollout' || (kind === 'experiment' && state === 'running'),
  )
  const drawn = await drawnBefore(database, siteId, visitor)
  const answers = dryRun(
    running.map((thing) => ({ ...thing, drawn: thing.kind === 'experiment' ? drawn.get(thing.id) : undefined })),
    visitor,
    facts,
    undefined,
    person,
  )
  return running.flatMap(({ id, name, variants }, index) => {
    const { reason, variant } = answers[index]!
    if (reason !== null || variant === null) return []
    const { from, position } = served.get(id) ?? {}
    return [{ experiment: from?.id ?? id, name, variant: position ?? variant, variantName: variants[variant]! }]
  })
}

/** The variants that a visitor had of experiments whose split moves, as far as that is counted. */
async function drawnBefore(database: Database, siteId: number, visitor: string): Promise<Map<number, number>> {
  const rows = await database
    .select({ experimentId: exposure.experimentId, variant: exposure.variant })
    .from(exposure)
    .where(and(eq(exposure.siteId, siteId), eq(exposure.visitorId, visitor), isNotNull(exposure.period)))
  return new Map(rows.map(({ experimentId, variant }) => [experimentId, variant]))
}

const LIVE = ['running', 'paused'] as const
const WEEK = 7
/** Visitors of the past who are looked at. */
const MOST_LOOKED = 10_000

/** What would have become of the visitors of the last week with an experiment, had it run as it is now. */
export async function dryRunPast(
  database: Database,
  siteId: number,
  experimentId: number,
  now: Date,
): Promise<PastDryRunView> {
  const sheet = await findSheet(database, siteId, experimentId)
  const { attributes } = await findSite(database, siteId)
  // What a ramp begins with is soon over: the plan is made for the share that it leads to.
  const whole = { ...sheet, share: sheet.ramp?.final ?? sheet.share, terms: { ...sheet.terms, ramp: [] } }
  const thing = (await experimentThings(database, siteId, [whole], now))[0]!
  const from = now.getTime() - WEEK * DAY
  const { all, drawn } = await visitorsSince(database, siteId, new Date(from).toISOString(), now, MOST_LOOKED)
  const pasts = pastOfVisitors(database, siteId, drawn, thing.audience, ({ at }) => at >= from)
  const reasons = new Map<Reason, number>()
  const audience = wholeAudience(sheet)
  const failing = (audience?.of ?? []).map(() => 0)
  const variants = thing.variants.map(() => 0)
  let looked = 0
  let entered = 0
  for await (const [visitor, past] of pasts) {
    looked++
    const replayed = replayTerms(thing, visitor, past, () => true)
    if (replayed.entered) {
      entered++
      variants[replayed.variant ?? 0]!++
    } else if (replayed.reason) reasons.set(replayed.reason, (reasons.get(replayed.reason) ?? 0) + 1)
    if (replayed.reason !== 'audience' || !thing.audience) continue
    const onPages = past.views.map((view) => ({
      ...view,
      isTested: view.isTested && matchesPage(thing.pages, view.address),
    }))
    for (const index of replayVisitor(thing.audience, { ...past, views: onPages }).failing) failing[index]!++
  }
  const names = { audiences: await audienceNames(database, siteId) }
  const aDay = looked === 0 ? 0 : ((entered / looked) * all) / WEEK
  const { reading, forecast } = await lookAtTraffic(database, sheet, now)
  const planned = sheet.plan.plannedVisitors ?? reading.plannedVisitors
  // As many in the first week as were looked at; in later ones fewer are new.
  const expected = { ...forecast, visitors: (aDay * WEEK) / (forecast.firstSeen?.[0] || WEEK / forecast.days) }
  return {
    visitors: all,
    looked,
    entered,
    aDay,
    reasons: [...reasons].map(([reason, visitors]) => ({ reason, visitors })).sort((a, b) => b.visitors - a.visitors),
    conditions: (audience?.of ?? []).map((each, index) => ({
      words: conditionInWords(each, names),
      visitors: failing[index]!,
    })),
    variants: thing.variants.map((name, index) => ({ name, visitors: variants[index]! })),
    unknown: thing.audience ? unknownFromPast(thing.audience, attributes).map((fact) => FACT_WORDS[fact]) : [],
    weeks: planned === null || aDay === 0 ? null : weeksUntil(expected, planned),
  }
}

/** Everything that visitors may get, in the order in which browsers ask. */
export async function everything(database: Database, siteId: number, now: Date): Promise<Named[]> {
  const sheets = await listSheets(database, siteId, ['draft', ...LIVE])
  const { collection, id } = await findSite(database, siteId)
  const surveys = (await listSurveys(database, siteId)).filter(({ state }) => state !== 'ended')
  const inline = await audienceInliner(database, siteId)
  const rest = { audience: null, state: 'running', variants: [] } as const
  const things = await experimentThings(database, siteId, sheets, now)
  const isServed = new Set(sheets.filter(({ purpose }) => purpose === 'serve').map((sheet) => sheet.id))
  const served = [...(await rolloutThings(database, siteId)), ...things.filter((each) => isServed.has(each.id))]
  return [
    ...inServedOrder(served, await servedOrderOf(database, siteId)),
    ...things.filter((each) => !isServed.has(each.id)),
    ...surveys.map(({ id: survey, name, state, content: { share, pages, audience } }): Named => ({
      kind: 'survey',
      ...rest,
      id: survey,
      name,
      share,
      pages,
      salt: surveySalt(survey),
      audience: audience ? inline(audience, null) : null,
      state: state === 'draft' ? 'draft' : 'running',
    })),
    ...(['behavior', 'recording'] as const).flatMap((kind): Named[] => {
      const { share, pages } = collection[kind]
      const salt = kind === 'behavior' ? BEHAVIOR_SALT : RECORDING_SALT
      const name = kind === 'behavior' ? 'Reading and forms' : 'Session recording'
      return share > 0 ? [{ kind, id, name, salt, share, pages, ...rest }] : []
    }),
  ]
}

/** What is rolled out, as visitors get it. */
async function rolloutThings(database: Database, siteId: number): Promise<Named[]> {
  const inline = await audienceInliner(database, siteId)
  return (await liveRollouts(database, siteId)).map(({ row, from, variant, holdouts }) => ({
    kind: 'rollout',
    id: row.id,
    name: from.name,
    state: 'running',
    salt: row.salt,
    share: row.share,
    pages: from.pageRules,
    audience: row.isForEverybody ? null : from.audience && inline(from.audience, from.audienceVersions),

    holdouts,
    activation: from.terms.activation,
    weights: [1],
    variants: [variant.name],
  }))
}

/** Experiments as visitors get them; drafts as if they had been started now. */
export async function experimentThings(
  database: Database,
  siteId: number,
  sheets: readonly ExperimentSheet[],
  now: Date,
): Promise<Named[]> {
  const inline = await audienceInliner(database, siteId)
  const groups = await listGroups(database, siteId)
  const salts = await groupSalts(database, siteId)
  const own = await saltsOf(
    database,
    siteId,
    sheets.map(({ id }) => id),
  )
  const heldOutOf = await holdoutsOf(database, siteId)
  const testShare = (test: ExperimentSheet): TestShare => ({
    salt: own.get(test.id)!.salt,
    share: test.share,
    group: placeIn(groups, salts, test, test.share),
    holdouts: test.startedAt ? heldOutOf(new Date(test.startedAt)) : [],
  })
  const things = sheets.map((sheet): Named => {
    const { id, name, state, pageRules, share, terms, startedAt } = sheet
    const audience = wholeAudience(sheet)
    const wordings = wordingAudiences(sheet)
    const { salt, audienceVersions, servedFrom } = own.get(id)!
    const first = state === 'draft' && terms.ramp[0] ? terms.ramp[0].share : share
    return {
      kind: 'experiment',
      id,
      name,
      state,
      pages: pageRules,
      salt,
      share: first,
      ...(terms.unit === 'person' ? { unit: 'person' as const } : {}),
      audience: audience && inline(audience, state === 'draft' ? null : audienceVersions),
      wordings: wordings?.map((each) => each && inline(each, state === 'draft' ? null : audienceVersions)),
      group: placeIn(groups, salts, sheet, first),
      holdouts: heldOutOf(startedAt ? new Date(startedAt) : now, servedFrom),
      apart: sheets.filter((test) => test.state !== 'draft' && terms.apartFrom?.includes(test.id)).map(testShare),
      activation: terms.activation,
      // Of a split that moves, those that new visitors are drawn by.
      weights: sheet.periods.at(-1)?.shares ?? measuredVariants(sheet).map(({ weight }) => weight),
      variants: sheet.variants.map((each) => each.name),
    }
  })
  // As in the site file: what is served first, then by turns.
  const rank = new Map(sheets.map(({ id, purpose, terms }) => [id, purpose === 'serve' ? 0 : terms.rank]))
  return things.sort((one, other) => rank.get(one.id)! - rank.get(other.id)! || one.id - other.id)
}

/** Its place in its group; of a draft, the one that it would get if it started now. */
function placeIn(
  groups: readonly ExclusionGroupView[],
  salts: ReadonlyMap<number, string>,
  { id, terms, share: whole }: ExperimentSheet,
  share: number,
): GroupPlace | null {
  const group = groups.find((each) => each.id === terms.group)
  if (!group) return null
  if (group.kind === 'turns')
    return { members: group.members.filter(({ state }) => state !== 'draft').map((each) => each.experiment) }
  const parts = group.members.map((each) => ({ experiment: each.experiment, ranges: each.ranges }))
  return { salt: salts.get(group.id)!, ranges: firstBuckets(takeBuckets(parts, id, whole) ?? [], share) }
}
