import { isOfElement } from '../../../core/edits/content'
import { sql } from 'drizzle-orm'
import { isWithin, selectorProblem } from '../../../core/measurement/elementPath'
import { changedLevels, type NamedLevel } from '../../../core/preflight/factorFindings'
import {
  askedLanguages,
  languageFindings,
  languageSelector,
  NAMES_LANGUAGE,
  type SpokenPage,
} from '../../../core/preflight/languageFindings'
import { policyFindings, type PagePolicies } from '../../../core/preflight/policyFindings'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import {
  rolloutFindings,
  trafficFindings,
  unkeptDetailFindings,
  type CountedLately,
  type RunningBeside,
} from '../../../core/preflight/trafficFindings'
import {
  triedElementFindings,
  triedMetricFindings,
  type TriedMetric,
  type TriedPage,
} from '../../../core/preflight/triedElements'
import { planFindings, readPlan } from '../../../core/sheet/planReading'
import { matchesPage, namedPath } from '../../../core/targeting/pageRule'
import type { ExperimentSheet, PreflightReport } from '../../../shared/experiments/experiment'
import {
  lineFindings,
  redirectFindings,
  variantFindings,
  type TriedTarget,
} from '../../../core/preflight/variantFindings'
import type { Database } from '../../database/connect'
import type { CountedPage } from '../sites/countElements'
import { HttpProblem } from '../HttpProblem'
import { liveRollouts } from '../rollouts/liveRollouts'
import { problemsOfPictures } from '../pictures/variantPictures'
import { findSite } from '../sites/sites'
import { forecastOf, lookedBackTo, seenAddresses, type SeenAddress } from './forecast'
import { audienceNames } from '../audiences/audienceSize'
import { audienceInliner } from '../audiences/savedAudiences'
import { sharingFindings } from '../traffic/sharingFindings'
import { leftByHoldouts } from '../traffic/holdouts'
import { audienceFindings } from './replayAudience'
import { approvalFindings } from './review'
import { findSheet, listSheets } from './sheet'
import { MOST_TESTED_PAGES, pathsOf, testedPages } from './testedPages'

/** Fetches a page of the site, counts what selectors find on it, and reads its content security policies. */
export type TryPage = (address: string, selectors: readonly string[]) => Promise<CountedPage>

/** What can only be known by looking: at the traffic, at the pages, and at what runs beside. */
export async function preflightReport(
  database: Database,
  siteId: number,
  experimentId: number,
  now: Date,
  tryPage: TryPage,
): Promise<PreflightReport> {
  const sheet = await findSheet(database, siteId, experimentId)
  const { address, key } = await findSite(database, siteId)
  const { forecast, seen, all, counted, findings, audience } = await lookAtTraffic(database, sheet, now)
  const pages = testedPages(sheet, seen)
  const languages = askedLanguages(audience)
  const spoken = languages.length > 0 ? [NAMES_LANGUAGE, ...languages.map(languageSelector)] : []
  // Of pages that code is brought to, the policy is read, though no element of theirs is looked for.
  const isWithCode = editedThings(sheet).some(({ edits }) =>
    edits.some(({ kind }) => kind === 'script' || kind === 'css'),
  )
  const asked = [...editSelectors(sheet), ...spoken, ...(isWithCode ? ['head'] : [])]
  const tried = await tryPages(pages, address, asked, tryPage)
  const metrics = countedElements(sheet, counted)
  const lookedFor = metrics.map(({ selector }) => selector)
  const visited = await tryPages(pathsOf(all).slice(0, MOST_TESTED_PAGES), address, lookedFor, tryPage)
  const lineSelector = `script[src$="/s/${key}.js"]`
  const targets = await tryTargets(sheet, all, address, lineSelector, tryPage)
  const unseen = await tryPages(unseenPages(sheet, all), address, [lineSelector], tryPage)
  const clicked = await clickedSelectors(database, sheet, addressesOf(seen), now)
  return {
    version: sheet.version,
    forecast,
    pages,
    findings: [
      ...redirectFindings(targets, lineSelector),
      ...triedElementFindings(editedThings(sheet), tried, clicked),
      ...policyFindings(editedThings(sheet), tried),
      ...languageFindings(languages, spokenPages(tried, languages)),
      ...lineFindings(unseen, lineSelector),
      ...triedMetricFindings(metrics, visited),
      ...(await pictureFindings(database, sheet, pages, address)),
      ...findings,
    ],
  }
}

/** What the traffic of the last four weeks says of a sheet, and what its plan comes to with it. */
export async function lookAtTraffic(database: Database, sheet: ExperimentSheet, now: Date) {
  const { siteId, plan, variants, share, metrics, pageRules, audience: conditions } = sheet
  const { address, attributes, eventDetails } = await findSite(database, siteId)
  const audience = conditions && (await audienceInliner(database, siteId))(conditions, null)
  const all = await seenAddresses(database, siteId, now)
  const seen = all.filter(({ address }) => matchesPage(pageRules, address))
  const {
    forecast: everybody,
    counted,
    replayed,
  } = await forecastOf(database, siteId, addressesOf(seen), { metrics, audience, kept: attributes }, now)
  const left = await leftByHoldouts(database, siteId, now)
  const forecast = { ...everybody, visitors: Math.round(everybody.visitors * left) }
  const beside = await runningBeside(database, sheet, all, seen, now)
  const weights = variants.map(({ weight }) => weight)
  const reading = readPlan({ plan, kind: metrics[0]?.kind ?? 'conversion', weights, share }, forecast)
  const names = { audiences: conditions ? await audienceNames(database, siteId) : {} }
  const findings: PreflightFinding[] = [
    ...variantFindings(editedThings(sheet), pageRules, address),
    ...(conditions && replayed ? audienceFindings(conditions, replayed, names, attributes) : []),
    ...(await sharingFindings(database, sheet, left)),
    ...(pageRules.length > 0 && !(replayed && forecast.visitors === 0)
      ? trafficFindings(forecast.visitors, counted, variants, beside)
      : []),
    ...unkeptDetailFindings(metrics, eventDetails),
    ...rolloutFindings(variants, await rolledOutHere(database, sheet, seen)),
    ...planFindings(plan, reading).map((each) => ({ ...each, section: 'decided' as const })),
    ...(await approvalFindings(database, sheet)),
  ]
  return { forecast, seen, all, counted, reading, findings, audience }
}

function spokenPages(tried: readonly TriedPage[], languages: readonly string[]): SpokenPage[] {
  return tried.map(({ path, found }) => {
    const has = (wanted: string) => found.some(({ selector, matches }) => selector === wanted && (matches ?? 0) > 0)
    return { path, isNamed: has(NAMES_LANGUAGE), fits: languages.map(languageSelector).some(has) }
  })
}

/** What edits are said of: the variants beside the control, or the levels of a multivariate test. */
export function editedThings({ factors, variants }: ExperimentSheet): readonly NamedLevel[] {
  return factors.length > 0 ? changedLevels(factors) : variants.slice(1)
}

/** What looks wrong on pictures of the variants as they are now. */
async function pictureFindings(
  database: Database,
  sheet: ExperimentSheet,
  pages: readonly string[],
  address: string,
): Promise<PreflightFinding[]> {
  const at = { siteId: sheet.siteId, experimentId: sheet.id }
  const found = await problemsOfPictures(database, sheet, at, pages, address)
  return found.map(({ variant, path, width, problems }) => {
    const name = sheet.variants.find(({ id }) => id === variant)!.name
    const more = problems.length > 1 ? ` And ${problems.length - 1} more: see its picture.` : ''
    return {
      section: 'what',
      isStop: false,
      text: `${name}, on ${path} in a width of ${width}: ${problems[0]!.text}${more}`,
    }
  })
}

/** Clicks that are looked through, the latest. */
const LOOKED_THROUGH = 5000

/** Which selectors of the edits lead to something that visitors of these pages clicked. */
export async function clickedSelectors(
  database: Database,
  sheet: ExperimentSheet,
  addresses: readonly string[],
  now: Date,
): Promise<ReadonlySet<string>> {
  const answerable = editSelectors(sheet).filter((selector) => selectorProblem(selector) === null)
  if (answerable.length === 0 || addresses.length === 0) return new Set()
  const { rows } = await database.execute<{ element: string }>(sql`
    SELECT DISTINCT element FROM (
      SELECT element FROM event
      WHERE site_id = ${sheet.siteId} AND type IN ('click', 'submit') AND occurred_at >= ${lookedBackTo(now)}
        AND address = ANY(${sql.param(addresses)}::text[]) AND element IS NOT NULL
      ORDER BY occurred_at DESC LIMIT ${LOOKED_THROUGH}
    ) AS latest`)
  return new Set(answerable.filter((selector) => rows.some(({ element }) => isWithin(element, selector))))
}

export function editSelectors(sheet: ExperimentSheet): string[] {
  return [
    ...new Set(editedThings(sheet).flatMap(({ edits }) => edits.filter(isOfElement).map(({ selector }) => selector))),
  ]
}

/** The metrics that count clicks or submissions, with what they counted lately. */
function countedElements({ metrics }: ExperimentSheet, counted: readonly CountedLately[]): TriedMetric[] {
  return metrics.flatMap(({ name, source }) => {
    if (source.type !== 'click' && source.type !== 'submit') return []
    const hasCounted = (counted.find((each) => each.name === name)?.counted ?? 0) > 0
    return [{ name, selector: source.selector, hasCounted }]
  })
}

/** Pages that are named by the sheet or its metrics, and that nobody has reported from lately. */
function unseenPages({ pageRules, metrics }: ExperimentSheet, all: readonly SeenAddress[]): string[] {
  const sources = metrics.flatMap(({ source, denominator }) => (denominator ? [source, denominator] : [source]))
  const rules = [...pageRules, ...sources.flatMap((source) => ('page' in source && source.page ? [source.page] : []))]
  const unseen = rules.filter(
    (rule) => namedPath(rule) !== null && !all.some(({ address }) => matchesPage([rule], address)),
  )
  return [...new Set(unseen.map(({ value }) => value))].slice(0, MOST_TESTED_PAGES)
}

/** The pages that variants send their visitors to. */
export async function tryTargets(
  { variants }: ExperimentSheet,
  all: readonly SeenAddress[],
  siteAddress: string,
  lineSelector: string,
  tryPage: TryPage,
): Promise<TriedTarget[]> {
  const wanted = variants.flatMap(({ name, edits }) =>
    edits.flatMap((edit) => (edit.kind === 'redirect' && !edit.isOff ? [{ variant: name, value: edit.value }] : [])),
  )
  return Promise.all(
    wanted.map(async ({ variant, value }) => {
      const [tried] = await tryPages([value], siteAddress, [lineSelector], tryPage)
      const { href, pathname } = new URL(value, siteAddress)
      const isOwn = href.startsWith(`${siteAddress}/`)
      // Where visitors have reported from the line is, however it comes to the page.
      const isSeen = isOwn && all.some((each) => matchesPage([{ match: 'exact', value: pathname }], each.address))
      return { variant, ...tried!, isSeen }
    }),
  )
}

export async function tryPages(
  paths: readonly string[],
  siteAddress: string,
  selectors: readonly string[],
  tryPage: TryPage,
): Promise<(TriedPage & PagePolicies)[]> {
  if (selectors.length === 0) return []
  return Promise.all(
    paths.map(async (path): Promise<TriedPage & PagePolicies> => {
      try {
        return { path, problem: null, ...(await tryPage(new URL(path, siteAddress).href, selectors)) }
      } catch (error) {
        if (!(error instanceof HttpProblem)) throw error
        return { path, problem: error.message, found: [], policies: [] }
      }
    }),
  )
}

async function rolledOutHere(database: Database, sheet: ExperimentSheet, seen: readonly SeenAddress[]) {
  const served = await liveRollouts(database, sheet.siteId)
  return served
    .filter(({ from }) => sharesPage(from.pageRules, sheet.pageRules, seen))
    .map(({ from, variant }) => ({ name: from.name, edits: variant.edits }))
}

async function runningBeside(
  database: Database,
  sheet: ExperimentSheet,
  all: readonly SeenAddress[],
  seen: readonly SeenAddress[],
  now: Date,
): Promise<RunningBeside[]> {
  const isBeside = ({ id, terms }: ExperimentSheet) =>
    id !== sheet.id && (terms.group === null || terms.group !== sheet.terms.group)
  const others = (await listSheets(database, sheet.siteId, ['running'])).filter(isBeside)
  return Promise.all(
    others.map(async ({ name, variants, pageRules }) => ({
      name,
      variants,
      sharesPage: sharesPage(pageRules, sheet.pageRules, seen),
      sharedVisitors: await sharedVisitors(
        database,
        sheet.siteId,
        addressesOf(seen),
        addressesOf(all.filter(({ address }) => matchesPage(pageRules, address))),
        now,
      ),
    })),
  )
}

/** Whether some page is matched by both: one that was visited, or one that both name. */
function sharesPage(
  theirs: ExperimentSheet['pageRules'],
  mine: ExperimentSheet['pageRules'],
  seenOfMine: readonly SeenAddress[],
): boolean {
  return (
    seenOfMine.some(({ address }) => matchesPage(theirs, address)) ||
    theirs.some((rule) => mine.some(({ match, value }) => match === rule.match && value === rule.value))
  )
}

async function sharedVisitors(
  database: Database,
  siteId: number,
  mine: readonly string[],
  theirs: readonly string[],
  now: Date,
): Promise<number> {
  if (mine.length === 0 || theirs.length === 0) return 0
  const visitorsOf = (addresses: readonly string[]) => sql`
    SELECT visitor_id FROM page_view
    WHERE site_id = ${siteId} AND occurred_at >= ${lookedBackTo(now)} AND NOT is_robot AND NOT is_team
      AND address = ANY(${sql.param(addresses)}::text[])`
  const { rows } = await database.execute<{ visitors: number }>(
    sql`SELECT count(*)::int AS visitors FROM (${visitorsOf(mine)} INTERSECT ${visitorsOf(theirs)}) AS shared`,
  )
  return rows[0]!.visitors
}

function addressesOf(seen: readonly SeenAddress[]): string[] {
  return seen.map(({ address }) => address)
}
