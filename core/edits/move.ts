import { describeElement, type ElementClues, type OfElement } from './element'
import { placeInWords, type Place } from './insert'
import type { EditKind } from './kind'

/** Takes an element to another place on the page. */
export interface MoveEdit extends OfElement {
  kind: 'move'
  /** The element that it goes to. */
  to: string
  toClues?: ElementClues | null
  place: Place
}

export const moveKind: EditKind<MoveEdit> = {
  problems: ({ selector, to }) =>
    !to.trim()
      ? ['Say where the element goes to.']
      : to === selector
        ? ['An element cannot go to itself. Choose another place.']
        : [],
  describe: (edit) =>
    `The ${describeElement(edit)} moves ${placeInWords(edit.place)} ${describeElement({ selector: edit.to, clues: edit.toClues })}`,
  changes: ({ selector }) => `move ${selector}`,
  merge: (_, later) => later,
}
