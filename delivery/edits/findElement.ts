import type { ElementClues } from '../../core/edits/element'
import { LONGEST_CLUE, oneLine } from '../../core/edits/element'
import { query } from './applier'
import { native, nativeDocument } from '../native'

/** How long a page that is complete is not searched again for what its clues tell, in ms. */
const PAUSE = 200
const MOST_CANDIDATES = 2000
const searched = new WeakMap<ElementClues, { at: number; found: Element | null }>()

/** What stands for the text of an element in its clues. */
export function clueText(element: Element | null): string {
  const text = element instanceof HTMLImageElement ? element.alt : (native(element)?.textContent ?? '')
  return oneLine(text).slice(0, LONGEST_CLUE)
}

/** What an element is, for finding it again where its selector no longer does. */
export function cluesOf(element: Element): ElementClues {
  const role = native(element).getAttribute('role')
  return {
    tag: native(element).localName,
    ...(role ? { role } : {}),
    text: clueText(element),
    before: clueText(native(element).previousElementSibling),
    after: clueText(native(element).nextElementSibling),
  }
}

/**
 * The element of a selector, or else the one that its clues describe.
 *
 * @param clues - absent where nothing but the selector is known
 */
export function findElement(selector: string, clues?: ElementClues | null): Element | null {
  return query(selector) ?? (clues ? findByClues(clues) : null)
}

/** The element that says what the clues say. Where several do, those beside it tell which; null where they do not. */
export function findByClues(clues: ElementClues): Element | null {
  // While the page is being built its element may be yet to come, and another one say the same.
  if (nativeDocument.readyState === 'loading' || !clues.text) return null
  const at = performance.now()
  const last = searched.get(clues)
  if (last && at - last.at < PAUSE && (!last.found || native(last.found).isConnected)) return last.found
  const found = likeliest(clues)
  searched.set(clues, { at, found })
  return found
}

function likeliest(clues: ElementClues): Element | null {
  const candidates = [...nativeDocument.getElementsByTagName(clues.tag)]
    .slice(0, MOST_CANDIDATES)
    .filter(
      (element) =>
        clueText(element) === clues.text && (native(element).getAttribute('role') ?? undefined) === clues.role,
    )
  if (candidates.length < 2) return candidates[0] ?? null
  const likeness = (element: Element) =>
    Number(clueText(native(element).previousElementSibling) === clues.before) +
    Number(clueText(native(element).nextElementSibling) === clues.after)
  const best = Math.max(...candidates.map(likeness))
  const likest = candidates.filter((element) => likeness(element) === best)
  return likest.length === 1 ? likest[0]! : null
}
