import { describeElement, type OfElement } from './element'
import type { EditKind } from './kind'

/** Puts the elements inside of one into another order. */
export interface RearrangeEdit extends OfElement {
  kind: 'rearrange'
  /** At each place, which of the elements stands there: a permutation of 0 … n − 1, by their places on the page as it is. */
  order: number[]
}

const MOST_ELEMENTS = 500

export const rearrangeKind: EditKind<RearrangeEdit> = {
  problems({ order }) {
    if (order.length > MOST_ELEMENTS) return [`At most ${MOST_ELEMENTS} elements can be put in order.`]
    const isPermutation = [...order].sort((a, b) => a - b).every((place, index) => place === index)
    if (!isPermutation) return ['The order names each element once.']
    return order.every((place, index) => place === index) ? ['The elements stand in this order already.'] : []
  },
  describe: (edit) =>
    `The ${edit.order.length} parts of ${describeElement(edit)} stand as ${edit.order.map((place) => place + 1).join(', ')}`,
  changes: ({ selector }) => `rearrange ${selector}`,
  // Both count from the page as it is, so that the later says it all.
  merge: (_, later) => later,
}
