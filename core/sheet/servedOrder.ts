/**
 * What is served in the order in which browsers apply it: where two change one element, the later one is seen. What
 * has no place yet comes last, in the order in which it is given.
 *
 * @param order - ids; those of things that are not served any more are passed over
 * @example inServedOrder([{ id: 3 }, { id: 5 }, { id: 8 }], [8, 3]) // [{ id: 8 }, { id: 3 }, { id: 5 }]
 */
export function inServedOrder<Thing extends { id: number }>(
  things: readonly Thing[],
  order: readonly number[],
): Thing[] {
  const place = ({ id }: Thing) => {
    const found = order.indexOf(id)
    return found < 0 ? order.length : found
  }
  return things.toSorted((one, other) => place(one) - place(other))
}
