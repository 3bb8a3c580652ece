/**
 * Root of a rising continuous function, by the Illinois variant of false position: superlinear, and never leaves the
 * bracket.
 *
 * @param at - rising function
 * @param low - where it is below zero
 * @param high - where it is above zero
 * @param width - a bracket this narrow is narrow enough
 * @param height - a value this close to zero is close enough
 * @returns where it is zero
 * @example risingRoot((x) => x * x - 2, 0, 2, 1e-12, 1e-12) // 1.41421356…
 * @see Dowell, Jarratt (1971), A modified regula falsi method, BIT 11
 */
export function risingRoot(at: (x: number) => number, low: number, high: number, width: number, height: number): number {
  let lowValue = at(low)
  let highValue = at(high)
  for (let step = 0; step < 100 && high - low > width; step++) {
    const middle = (low * highValue - high * lowValue) / (highValue - lowValue)
    const value = at(middle)
    if (Math.abs(value) < height) return middle
    if (value < 0) {
      low = middle
      lowValue = value
      highValue /= 2
    } else {
      high = middle
      highValue = value
      lowValue /= 2
    }
  }
  return (low + high) / 2
}
