import type { DeliveredEdit } from '../../core/edits/content'
import { safely } from '../snippet/safely'

/** An edit as it stands on the page. */
export interface AppliedEdit {
  /** Whether the page still shows it. */
  holds: () => boolean
  /** Takes it back, as far as the page has not changed the same since. */
  revert: () => void
  /** Takes away what would be in the way of applying it anew, on what the page has drawn meanwhile. */
  discard?: () => void
}

/** How edits are carried out: those of a text alone, or every kind; see `textOnly.ts` and `everyKind.ts`. */
export interface Applier {
  /** The element that an edit is about, if it is on the page. */
  find: (edit: DeliveredEdit) => Element | null
  apply: (edit: DeliveredEdit, element: Element) => AppliedEdit
  /**
   * Says what is to be watched beside nodes and texts: attributes whose change by the page may take an edit away.
   *
   * @param again - looks at the page once more, for what no change of it tells
   */
  watch?: (kept: readonly { edit: DeliveredEdit }[], again: () => void) => { attributeFilter?: string[] }
}

/** What a selector finds; nothing where the browser cannot read it. */
export function query(selector: string): Element | null {
  // Every edit asks: by itself it takes a third of the time.
  return safely(() => querySelector.call(document, selector)) ?? null
}
const { querySelector } = Document.prototype
