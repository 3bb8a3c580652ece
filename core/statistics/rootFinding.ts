/**
 * Root of a rising continuous function: secant steps from a guess, kept within a bracket as soon as there is one, and
 * halving it where they are slow.
 *
 * @param at - rising function
 * @param guess - where the root is thought to be
 * @param scale - how far the guess may be off; the function rises by about 1 over it
 * @param height - a value this close to zero is close enough
 * @returns where it is zero
 * @example risingRoot((x) => x * x * x - 2, 1, 0.5, 1e-12) // 1.25992…
 * @see Brent (1973), Algorithms for minimization without derivatives, chapter 4, for the safeguards
 */
export function risingRoot(at: (x: number) => number, guess: number, scale: number, height: number): number {
  let low = -Infinity
  let high = Infinity
  let [before, beforeValue] = [NaN, NaN]
  let x = guess
  let widest = 4 * scale
  for (let round = 0; round < 200; round++) {
    const value = at(x)
    if (Math.abs(value) < height) return x
    if (value < 0) low = x
    else high = x
    if (high - low <= 1e-14 * scale) return x
    let next = x - (value * (x - before)) / (value - beforeValue)
    if (round === 0) next = x - Math.max(-widest, Math.min(widest, value * scale))
    const isSlow = round % 4 === 3
    if (Number.isFinite(high - low) && (isSlow || !(next > low && next < high))) next = (low + high) / 2
    else if (!(Math.abs(next - x) <= widest)) next = x - Math.sign(value) * (widest *= 2)
    ;[before, beforeValue, x] = [x, value, next]
  }
  return x
}
