/**
 * Lower real branch W₋₁ of Lambert's W: the w ≤ −1 with w·eʷ = x.
 *
 * @param x - from −1/e (exclusive) to 0 (exclusive)
 * @returns w, to about machine precision (Halley's method)
 * @throws RangeError outside of the domain
 * @example lambertWLower(-0.1) // -3.577152063957297
 * @see Corless et al. (1996), On the Lambert W function, eq. 4.19 (start) and 5.9 (iteration)
 */
export function lambertWLower(x: number): number {
  if (!(x > -1 / Math.E && x < 0)) throw new RangeError('The lower branch of W takes numbers between −1/e and 0.')
  const near = Math.sqrt(2 * (1 + Math.E * x))
  const logarithm = Math.log(-x)
  let w = x < -0.25 ? -1 - near - (near * near) / 3 : logarithm - Math.log(-logarithm)
  for (let step = 0; step < 50; step++) {
    const power = Math.exp(w)
    const error = w * power - x
    const next = w - error / (power * (w + 1) - ((w + 2) * error) / (2 * w + 2))
    if (!Number.isFinite(next) || Math.abs(next - w) <= 1e-15 * Math.abs(next)) return Number.isFinite(next) ? next : w
    w = next
  }
  return w
}
