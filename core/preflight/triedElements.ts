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
  /** Whether nobody answered, or nobody may be asked: browsers of visitors may well get an answer. */
  isUnanswered?: boolean
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
  return [
    ...unreached(pages).map((text) => ({ section: 'who' as const, isStop: false, text })),
    ...triedElementProblems(variants, pages, clicked).map(({ what, advice }) => ({
      section: 'what' as const,
      isStop: false,
      text: `${what}${advice}`,
    })),
  ]
}

/** Pages that could not be fetched, each with why. */
export function unreached(pages: readonly TriedPage[]): string[] {
  return pages.flatMap(({ path, problem }) => (problem ? [`${path} could not be looked at: ${problem}`] : []))
}

/** What is wrong with an element that an edit changes. */
export interface ElementProblem {
  /** The same as long as the same thing is wrong, whatever the page says just now. */
  key: string
  what: string
  /** What to do about it in a draft. */
  advice: string
}

/** The same for an experiment that runs: what the pages say, and apart from it what could be done before the start. */
export function triedElementProblems(
  variants: readonly TriedVariant[],
  pages: readonly TriedPage[],
  clicked: ReadonlySet<string>,
): ElementProblem[] {
  const reached = pages.filter(({ problem }) => problem === null)
  if (reached.length === 0) return []
  return variants.flatMap(({ name, edits }) =>
    edits
      .filter(({ isOff }) => !isOff)
      .flatMap((edit) => {
        const problem = elementProblem(edit, reached, clicked)
        return problem ? [{ ...problem, key: `${name} ${problem.key}`, what: `${name}: ${problem.what}` }] : []
      }),
  )
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

function elementProblem(edit: Edit, pages: readonly TriedPage[], clicked: ReadonlySet<string>): ElementProblem | null {
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
    return {
      key: `missing ${selector}`,
      what: `${element} is not on ${where}, as the page is served, and nobody clicked it there lately.`,
      advice: ' Open the page and point at it again.',
    }
  }
  const many = seen.find(({ matches }) => matches > 1)
  if (many)
    return {
      key: `many ${selector}`,
      what: `${selector} finds ${many.matches} elements on ${many.path}, and only the first is changed.`,
      advice: ' Point at it again.',
    }
  const expected = saidBefore(edit)
  if (expected === null) return null
  const other = seen.find(({ text }) => text !== null && oneLine(text).slice(0, LONGEST_CLUE) !== expected)
  if (other)
    return {
      key: `other ${selector}`,
      what: `on ${other.path}, ${selector} says “${shortened(other.text!)}” and not “${shortened(expected)}”: another element would be changed there.`,
      advice: '',
    }
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
