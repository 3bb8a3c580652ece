import { isOfElement, type Edit } from '../edits/content'
import { describeElement, LONGEST_CLUE, oneLine, shortened } from '../edits/element'
import { matchesPageRule } from '../targeting/pageRule'
import type { PreflightFinding } from './preflight'

/** What a selector found on a page as it is served. */
export interface FoundElements {
  selector: string
  /** How many elements; null where the page's markup cannot answer the selector. */
  matches: number | null
  /** Text of the first one. */
  text: string | null
}

/** A page that was fetched, and what was found on it. */
export interface TriedPage {
  /** Path, and query where it counts. */
  path: string
  /** Why the page could not be fetched; null where it was. */
  problem: string | null
  found: readonly FoundElements[]
}

interface TriedVariant {
  name: string
  edits: readonly Edit[]
}

/**
 * What the pages themselves say of the edits: elements that are not there, that are there more than once, or that are
 * another one than the edit was made on. A page may build its elements in the browser, so that these are told and do
 * not keep from starting. What visitors clicked is there, whatever the page is served as.
 *
 * @param clicked - selectors of elements that visitors of these pages clicked lately
 */
export function triedElementFindings(
  variants: readonly TriedVariant[],
  pages: readonly TriedPage[],
  clicked: ReadonlySet<string>,
): PreflightFinding[] {
  const unreached = pages.flatMap(({ path, problem }) =>
    problem ? [{ section: 'who' as const, isStop: false, text: `${path} could not be looked at: ${problem}` }] : [],
  )
  const reached = pages.filter(({ problem }) => problem === null)
  if (reached.length === 0) return unreached
  return [
    ...unreached,
    ...variants.flatMap(({ name, edits }) =>
      edits
        .filter(({ isOff }) => !isOff)
        .flatMap((edit) => {
          const text = editFinding(edit, reached, clicked)
          return text ? [{ section: 'what' as const, isStop: false, text: `${name}: ${text}` }] : []
        }),
    ),
  ]
}

/** A metric that counts clicks on an element, or submissions of a form. */
export interface TriedMetric {
  name: string
  selector: string
  /** Whether it counted anything of the visitors lately. */
  hasCounted: boolean
}

/**
 * What the most visited pages say of metrics whose element nobody clicked lately: one that is on none of them is likely
 * mistyped.
 */
export function triedMetricFindings(metrics: readonly TriedMetric[], pages: readonly TriedPage[]): PreflightFinding[] {
  return metrics.flatMap(({ name, selector, hasCounted }) => {
    const seen = pages.flatMap(({ path, found }) => {
      const element = found.find((each) => each.selector === selector)
      return element && element.matches !== null ? [{ path, matches: element.matches }] : []
    })
    if (hasCounted || seen.length === 0 || seen.some(({ matches }) => matches > 0)) return []
    const text = `“${name}”: ${selector} is on none of the most visited pages, as they are served: ${listed(seen)}. Check the selector.`
    return [{ section: 'measured' as const, isStop: false, text }]
  })
}

function editFinding(edit: Edit, pages: readonly TriedPage[], clicked: ReadonlySet<string>): string | null {
  if (!isOfElement(edit)) return null
  const { selector, page } = edit
  const element = describeElement(edit)
  const seen = pages.flatMap(({ path, found }) => {
    if (page && !matchesPageRule(page, `https://site.invalid${path}`)) return []
    const tried = found.find((each) => each.selector === selector)
    return tried && tried.matches !== null ? [{ path, ...tried, matches: tried.matches }] : []
  })
  const missing = seen.filter(({ matches }) => matches === 0)
  if (missing.length > 0 && !clicked.has(selector)) {
    const where = missing.length === seen.length ? listed(missing) : `${listed(missing)}, though it is elsewhere`
    return `${element} is not on ${where}, as the page is served, and nobody clicked it there lately. Open the page and point at it again.`
  }
  const many = seen.find(({ matches }) => matches > 1)
  if (many)
    return `${selector} finds ${many.matches} elements on ${many.path}, and only the first is changed. Point at it again.`
  const expected = saidBefore(edit)
  if (expected === null) return null
  const other = seen.find(({ text }) => text !== null && oneLine(text).slice(0, LONGEST_CLUE) !== expected)
  if (other)
    return `on ${other.path}, ${selector} says “${shortened(other.text!)}” and not “${shortened(expected)}”: another element would be changed there.`
  return null
}

/** What the element said when the edit was made, as far as clues go; null where nothing is known. */
function saidBefore(edit: Edit): string | null {
  if (edit.kind === 'text') return oneLine(edit.original).slice(0, LONGEST_CLUE)
  return isOfElement(edit) && edit.clues?.text && edit.clues.tag !== 'img' ? edit.clues.text : null
}

function listed(pages: readonly { path: string }[]): string {
  return pages.map(({ path }) => path).join(', ')
}
