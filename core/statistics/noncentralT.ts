import { normalCdf, tQuantile } from './distributions'
import { integratePanels } from './quadrature'

/**
 * Power of a two-sided t test: P(|T| > t) of the noncentral t distribution.
 *
 * T = (Z + λ)/S with S² = χ²_ν/ν independent of Z, so P(|T| > t) = E[Φ(λ − tS) + Φ(−λ − tS)], integrated over the
 * density of S.
 *
 * @param noncentrality - λ, the expected difference in standard errors
 * @param degreesOfFreedom - ν, above 0
 * @param alpha - two-sided error level
 * @example tTestPower(2.8016, 1e9, 0.05) // 0.8000 (the normal limit)
 * @see Johnson, Kotz, Balakrishnan (1995), Continuous univariate distributions 2, ch. 31, eq. 31.1
 */
export function tTestPower(noncentrality: number, degreesOfFreedom: number, alpha: number): number {
  const nu = degreesOfFreedom
  const bound = tQuantile(1 - alpha / 2, nu)
  const deviation = 1 / Math.sqrt(2 * nu)
  // Relative to s = 1 and divided by its own integral, so that nothing cancels where ν is in the billions.
  const density = (s: number) => (s > 0 ? Math.exp((nu - 1) * Math.log1p(s - 1) - (nu * (s - 1) * (s + 1)) / 2) : 0)
  const breaks: number[] = []
  for (let step = -9; step <= 12; step += 0.25) breaks.push(Math.max(0, 1 + step * deviation))
  const rejected = integratePanels(
    (s) => density(s) * (normalCdf(noncentrality - bound * s) + normalCdf(-noncentrality - bound * s)),
    breaks,
  )
  return rejected / integratePanels(density, breaks)
}
