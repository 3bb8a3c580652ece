import type { DeliveredEdit } from '../../core/edits/edit'
import { applyText } from './text'

/** An edit as it stands on the page. */
export interface AppliedEdit {
  /** Whether the page still shows it. */
  holds: () => boolean
  /** Takes it back, as far as the page has not changed the same since. */
  revert: () => void
}

const KINDS: {
  [Kind in DeliveredEdit['kind']]: (edit: Extract<DeliveredEdit, { kind: Kind }>, element: Element) => AppliedEdit
} = {
  text: applyText,
}

/** Applies an edit to the element it names. */
export function applyEdit(edit: DeliveredEdit, element: Element): AppliedEdit {
  return KINDS[edit.kind](edit, element)
}

/** The element that an edit names, if it is on the page. */
export function elementOf({ selector }: DeliveredEdit): Element | null {
  try {
    return document.querySelector(selector)
  } catch {
    return null
  }
}
