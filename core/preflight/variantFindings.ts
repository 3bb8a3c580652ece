import type { Edit } from '../edits/content'
import { PHONE_WIDTH, widerThanPhone } from '../edits/fixedWidth'
import { editName } from '../edits/edit'
import { redirectTarget } from '../edits/redirect'
import { separateChanges } from '../edits/separateChanges'
import { matchesPage, namedPath, type PageRule } from '../targeting/pageRule'
import type { PreflightFinding } from './preflight'
import type { TriedPage } from './triedElements'

interface LookedAtVariant {
  name: string
  edits: readonly Edit[]
}

/** Things that a sentence names at most. */
const MOST_NAMED = 4

/**
 * What variants say of themselves: several separate changes in one, edits that are limited to a page of no visitor, a
 * redirect to where one is already.
 *
 * @param variants - without the control
 * @param siteAddress - origin of the site
 */
export function variantFindings(
  variants: readonly LookedAtVariant[],
  pageRules: readonly PageRule[],
  siteAddress: string,
): PreflightFinding[] {
  return variants.flatMap(({ name, edits }) => {
    const applied = edits.filter(({ isOff }) => !isOff)
    const findings: PreflightFinding[] = []
    const add = (text: string, isStop: boolean) => findings.push({ section: 'what', isStop, text: `${name}: ${text}` })
    const changed = separateChanges(applied).map(({ thing }) => thing)
    if (changed.length > 1)
      add(
        `it changes ${changed.length} separate things: ${listed(changed)}. If it wins, nobody knows which of them did it. Make the test multivariate where that matters: each becomes a factor of its own.`,
        false,
      )
    if (applied.length > 0 && applied.every(({ widths }) => widths))
      add(
        'its edits apply in some window widths only. Visitors with other windows see no change and count too. Limit the audience to a device where that is not meant.',
        false,
      )
    for (const edit of applied) {
      const { page } = edit
      const wide = edit.kind === 'style' ? widerThanPhone(edit.value) : null
      if (wide !== null)
        add(
          `“${editName(edit)}” is ${wide} px wide, and a phone’s window ${PHONE_WIDTH}. Set “Largest width” to 100 %.`,
          false,
        )
      const path = page ? namedPath(page) : null
      if (path !== null && !matchesPage(pageRules, siteAddress + path))
        add(`“${editName(edit)}” is limited to ${path}, which is none of the experiment’s pages.`, true)
      if (edit.kind === 'redirect') {
        const own = pageRules.find(
          (rule) => namedPath(rule) !== null && leadsNowhere(edit.value, siteAddress + namedPath(rule)),
        )
        if (own) add(`it sends visitors of ${own.value} to the page that they are on. Choose another page.`, true)
      }
    }
    return findings
  })
}

function leadsNowhere(target: string, from: string): boolean {
  try {
    return redirectTarget(target, from) === null
  } catch {
    return false
  }
}

/** A page that visitors are sent to, as it was found. */
export interface TriedTarget extends TriedPage {
  /** The variant that sends them. */
  variant: string
  /** Whether visitors have reported from there lately. */
  isSeen?: boolean
}

/**
 * What the pages that redirects lead to say: one that answers with an error stops the start, and so does one without the
 * script line, which would count nothing of what its visitors do. One that cannot be reached from here is told.
 *
 * @param lineSelector - finds the script line
 */
export function redirectFindings(targets: readonly TriedTarget[], lineSelector: string): PreflightFinding[] {
  return targets.flatMap(({ variant, path, problem, isUnanswered, found, isSeen }): PreflightFinding[] => {
    const add = (text: string, isStop = true): PreflightFinding[] => [
      { section: 'what', isStop, text: `${variant}: ${text}` },
    ]
    if (problem && isUnanswered)
      return isSeen ? [] : add(`Vetch cannot open the page that it sends visitors to. ${problem}`, false)
    if (problem) return add(`the page that it sends visitors to does not answer as it should. ${problem}`)
    return isSeen || hasLine(found, lineSelector)
      ? []
      : add(`${path}, where it sends visitors, does not carry the script line: nothing they do there would be counted.`)
  })
}

/**
 * Pages that the experiment or its metrics need, and that do not carry the script line as they are served.
 *
 * @param pages - none of which any visitor has reported from lately
 */
export function lineFindings(pages: readonly TriedPage[], lineSelector: string): PreflightFinding[] {
  const without = pages.filter(({ problem, found }) => problem === null && !hasLine(found, lineSelector))
  if (without.length === 0) return []
  const text = `The script line is not on ${listed(without.map(({ path }) => path))}, and no visitor has reported from there: nothing would be counted. Put it into the head of every page.`
  return [{ section: 'measured', isStop: false, text }]
}

function hasLine(found: TriedPage['found'], lineSelector: string): boolean {
  return found.some(({ selector, matches }) => selector === lineSelector && (matches ?? 0) > 0)
}

function listed(words: readonly string[]): string {
  const named = words.slice(0, MOST_NAMED)
  return named.length < words.length ? `${named.join(', ')} and ${words.length - named.length} more` : named.join(', ')
}
