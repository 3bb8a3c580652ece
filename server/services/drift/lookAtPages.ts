import { triedElementProblems, unreached } from '../../../core/preflight/triedElements'
import { redirectFindings, type TriedTarget } from '../../../core/preflight/variantFindings'
import { matchesPage } from '../../../core/targeting/pageRule'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { Database } from '../../database/connect'
import { editedThings } from '../experiments/editedThings'
import { seenAddresses } from '../experiments/forecast'
import { testedPages } from '../experiments/testedPages'
import { clickedSelectors, editSelectors, tryPages, tryTargets, type TryPage } from '../experiments/triedPages'
import { findSite } from '../sites/sites'

/** What pages say of a sheet's edits, as it is kept. */
export interface LookedAt {
  /** The pages that are looked at: the same ones each time. */
  pages: string[]
  withLine: string[]
  /** Keys of what was wrong at the first look. */
  atStart: string[]
  /** What is wrong beyond that, in sentences. */
  drift: string[]
  since: Date | null
}

/**
 * Looks at the pages of a sheet as they are served.
 *
 * @param sheet - with the variants that visitors are served
 * @param known - what the look before came to, and what browsers tell by themselves
 * @returns what it comes to now, and the pages that variants send their visitors to
 */
export async function lookAtPages(
  database: Database,
  sheet: ExperimentSheet,
  { before, told }: { before: LookedAt | undefined; told: readonly { key: string; text: string }[] },
  now: Date,
  tryPage: TryPage,
): Promise<{ looked: LookedAt; targets: TriedTarget[] }> {
  const { address, key } = await findSite(database, sheet.siteId)
  const all = await seenAddresses(database, sheet.siteId, now)
  const seen = all.filter((each) => matchesPage(sheet.pageRules, each.address))
  const pages = before?.pages ?? testedPages(sheet, seen)
  const addresses = seen.map((each) => each.address)
  const clicked = await clickedSelectors(database, sheet, addresses, now)
  const lineSelector = `script[src$="/s/${key}.js"]`
  const tried = await tryPages(pages, address, [...editSelectors(sheet), lineSelector], tryPage)
  const lines = tried.map(({ path, found }) => ({
    path,
    matches: found.find(({ selector }) => selector === lineSelector)?.matches ?? null,
  }))
  const hadLine = before?.withLine ?? []
  const withLine = [...new Set([...hadLine, ...lines.filter(({ matches }) => matches).map(({ path }) => path)])]
  const tryThem = () => tryTargets(sheet, all, address, lineSelector, tryPage)
  let targets = await tryThem()
  // What fails once may be a passing thing.
  if (targets.some(({ problem }) => problem !== null)) targets = await tryThem()
  const lost = lines.filter(({ path, matches }) => matches === 0 && hadLine.includes(path))
  const said = [
    ...lost.map(({ path }) => ({
      key: `${path} lost the line`,
      text: `${path} does not carry the script line any more.`,
    })),
    ...unreached(tried).map((text) => ({ key: text, text })),
    ...triedElementProblems(editedThings(sheet), tried, clicked).map(({ key: of, what }) => ({ key: of, text: what })),
    ...redirectFindings(targets, lineSelector).map(({ text }) => ({ key: text, text })),
    ...targets
      .filter(({ isUnanswered }) => isUnanswered)
      .map((each) => ({ key: unansweredKey(each), text: pausingReason(each) })),
  ]
  const atStart = before?.atStart ?? said.map((each) => each.key)
  const drift = [...told, ...said.filter((each) => !atStart.includes(each.key))].map(({ text }) => text)
  const since = drift.length === 0 ? null : (before?.since ?? now)
  return { looked: { pages, withLine, atStart, drift, since }, targets }
}

export const unansweredKey = ({ variant, path }: TriedTarget) => `${variant} ${path} is not answered`
export const pausingReason = ({ variant, path, problem }: TriedTarget) =>
  `${variant} sends visitors to ${path}, which does not answer as it should. ${problem}`
