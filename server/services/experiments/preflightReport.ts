import type { ExperimentSheet, PreflightReport } from '../../../shared/experiments/replies'
import {
  askedLanguages,
  languageFindings,
  languageSelector,
  NAMES_LANGUAGE,
  type SpokenPage,
} from '../../../core/preflight/languageFindings'
import { policyFindings } from '../../../core/preflight/policyFindings'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import type { CountedLately } from '../../../core/preflight/trafficFindings'
import {
  triedElementFindings,
  type TriedMetric,
  triedMetricFindings,
  type TriedPage,
} from '../../../core/preflight/triedElements'
import { lineFindings, redirectFindings } from '../../../core/preflight/variantFindings'
import { matchesPage, namedPath } from '../../../core/targeting/pageRule'
import type { Database } from '../../database/connect'
import { problemsOfPictures } from '../pictures/variantPictures'
import { findSite } from '../sites/sites'
import { editedThings } from './editedThings'
import type { SeenAddress } from './forecast'
import { addressesOf, type LookAtTraffic } from './lookAtTraffic'
import { findSheet } from './sheet'
import { MOST_TESTED_PAGES, pathsOf, testedPages } from './testedPages'
import { clickedSelectors, editSelectors, type TryPage, tryPages, tryTargets } from './triedPages'

export interface PreflightTools {
  tryPage: TryPage
  look: LookAtTraffic
}

/** What can only be known by looking: at the traffic, at the pages, and at what runs beside. */
export async function preflightReport(
  database: Database,
  siteId: number,
  experimentId: number,
  now: Date,
  { tryPage, look }: PreflightTools,
): Promise<PreflightReport> {
  const sheet = await findSheet(database, siteId, experimentId)
  const { address, key } = await findSite(database, siteId)
  const { forecast, seen, all, counted, findings, audience } = await look(sheet, now)
  const pages = testedPages(sheet, seen)
  const languages = askedLanguages(audience)
  const spoken = languages.length > 0 ? [NAMES_LANGUAGE, ...languages.map(languageSelector)] : []
  // Of pages that code is brought to, the policy is read, though no element of theirs is looked for.
  const isWithCode = editedThings(sheet).some(({ edits }) =>
    edits.some(({ kind }) => kind === 'script' || kind === 'css'),
  )
  const asked = [...editSelectors(sheet), ...spoken, ...(isWithCode ? ['head'] : [])]
  const metrics = countedElements(sheet, counted)
  const lookedFor = metrics.map(({ selector }) => selector)
  const lineSelector = `script[src$="/s/${key}.js"]`
  const [tried, visited, targets, unseen, clicked, pictured] = await Promise.all([
    tryPages(pages, address, asked, tryPage),
    tryPages(pathsOf(all).slice(0, MOST_TESTED_PAGES), address, lookedFor, tryPage),
    tryTargets(sheet, all, address, lineSelector, tryPage),
    tryPages(unseenPages(sheet, all), address, [lineSelector], tryPage),
    clickedSelectors(database, sheet, addressesOf(seen), now),
    pictureFindings(database, sheet, pages, address),
  ])
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
      ...pictured,
      ...findings,
    ],
  }
}

function spokenPages(tried: readonly TriedPage[], languages: readonly string[]): SpokenPage[] {
  return tried.map(({ path, found }) => {
    const has = (wanted: string) => found.some(({ selector, matches }) => selector === wanted && (matches ?? 0) > 0)
    return { path, isNamed: has(NAMES_LANGUAGE), fits: languages.map(languageSelector).some(has) }
  })
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
