import { chiSquareUpperTail } from './distributions'

export interface Heterogeneity {
  q: number | null
  degreesOfFreedom: number
  pValue: number | null
  why?: string
}

/**
 * Cochran's Q: do independent groups differ in an effect by more than chance?
 *
 * @param effects - estimate and standard error in each group; groups without a standard error above zero are left out
 * @returns Q = Σ wᵢ(δᵢ − δ̄)² with wᵢ = 1/SE², its degrees of freedom and the chi-square p-value
 * @see Cochran (1954), The combination of estimates from different experiments, Biometrics 10
 */
export function heterogeneity(
  effects: readonly { estimate: number | null; standardError: number | null }[],
): Heterogeneity {
  const usable = effects.filter(
    (each): each is { estimate: number; standardError: number } =>
      each.estimate !== null && each.standardError !== null && each.standardError > 0,
  )
  if (usable.length < 2)
    return {
      q: null,
      degreesOfFreedom: 0,
      pValue: null,
      why: 'Fewer than two segments have an effect that can be estimated.',
    }
  const weights = usable.map(({ standardError }) => 1 / (standardError * standardError))
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  const center = usable.reduce((sum, { estimate }, index) => sum + weights[index]! * estimate, 0) / total
  const q = usable.reduce((sum, { estimate }, index) => sum + weights[index]! * (estimate - center) ** 2, 0)
  const degreesOfFreedom = usable.length - 1
  return { q, degreesOfFreedom, pValue: chiSquareUpperTail(q, degreesOfFreedom) }
}
