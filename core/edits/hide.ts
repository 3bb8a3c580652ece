import { describeElement, type OfElement } from './element'
import type { EditKind } from './kind'

/** Keeps an element from being seen, and leaves it where it is. */
export interface HideEdit extends OfElement {
  kind: 'hide'
  /** Whether an empty place stays. */
  keepsSpace: boolean
}

/** Takes an element out of the page. */
export interface RemoveEdit extends OfElement {
  kind: 'remove'
}

export const hideKind: EditKind<HideEdit> = {
  problems: () => [],
  describe: (edit) => `The ${describeElement(edit)} is hidden${edit.keepsSpace ? '; its place stays empty' : ''}`,
  changes: ({ selector }) => `hide ${selector}`,
  merge: (_, later) => later,
}

export const removeKind: EditKind<RemoveEdit> = {
  problems: () => [],
  describe: (edit) => `The ${describeElement(edit)} is removed`,
  changes: ({ selector }) => `remove ${selector}`,
  merge: (_, later) => later,
}
