import { elementKind } from '../measurement/elementKind'

/** What an element was when somebody pointed at it. Finds it again where its selector no longer does. */
export interface ElementClues {
  /** Tag in lower case. */
  tag: string
  /** Role that the page gives it, such as `button`. */
  role?: string | null
  /** Its text, with single spaces and cut at `LONGEST_CLUE`; of a picture, what stands in its place. */
  text: string
  /** Text of the elements before and after it in the same container. */
  before: string
  after: string
}

/** What edits of one element have in common. */
export interface OfElement {
  /** CSS selector that finds exactly one element on the page as it is. */
  selector: string
  clues?: ElementClues | null
}

/** Longest text of a clue, in characters. */
export const LONGEST_CLUE = 80

/** Their text is that of everything inside, and says little. */
const CONTAINERS = new Set(['article', 'aside', 'div', 'footer', 'header', 'main', 'nav', 'section', 'form', 'table'])

/**
 * An element in words: its kind and what it says.
 *
 * @returns the selector where nothing is known of the element
 * @example describeElement({ selector: '#find', clues: { tag: 'button', text: 'Find a crossing', before: '', after: '' } })
 * // 'button “Find a crossing”'
 */
export function describeElement({ selector, clues }: OfElement): string {
  if (!clues) return selector
  const kind = elementKind(clues.tag, clues.role)
  const text = shortened(clues.text, CONTAINERS.has(clues.tag) ? 24 : 48)
  return text ? `${kind} “${text}”` : kind
}

/** A text on one line, cut where it is longer than a number of characters. */
export function shortened(text: string, longest = 60): string {
  const line = oneLine(text)
  return line.length > longest ? `${line.slice(0, longest - 1)}…` : line
}

/** A text with single spaces, as it is read. */
export function oneLine(text: string): string {
  return text.replace(/\s+/g, ' ').trim()
}
