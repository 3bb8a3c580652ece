import { estimateArm, type MetricKind } from '../statistics/estimate'
import { heterogeneity, type Heterogeneity } from '../statistics/heterogeneity'
import { holm } from '../statistics/holm'
import { logLift } from '../statistics/logLift'
import type { Moments } from '../statistics/moments'
import { correctedParts, readPart, type Part } from './part'

/** An experiment that shares visitors with the one that is read. */
export interface SharedExperiment {
  /** Each of its variants, with the arms of the one that is read among its visitors, the control first. */
  variants: readonly { name: string; arms: readonly Moments[] }[]
}

/** One variant against the control, within each variant of another experiment. */
export interface Interaction {
  within: Part[]
  differ: Heterogeneity
  /** Of whether they differ, corrected over all experiments and variants that are asked about (Holm 1979). */
  adjustedPValue: number | null
}

/**
 * Whether the effect of an experiment depends on what its visitors saw of others. Both are assigned by chance and apart
 * from each other, so that a difference is an interaction. It is asked of the logarithms of the ratios of means, as lifts
 * are shown.
 *
 * @param variants - how many variants the experiment has beside the control
 * @param alpha - two-sided error level of the intervals
 * @returns for each other experiment, for each variant
 * @see Cochran (1954), The combination of estimates from different experiments, Biometrics 10, for the test
 */
export function readInteractions(
  kind: MetricKind,
  others: readonly SharedExperiment[],
  variants: number,
  alpha: number,
): Interaction[][] {
  const read = others.map((other) =>
    Array.from({ length: variants }, (_, index) => {
      const pairs = other.variants.map(({ name, arms }) => ({
        name,
        control: estimateArm(kind, arms[0]!),
        variant: estimateArm(kind, arms[index + 1]!),
      }))
      return {
        within: correctedParts(pairs.map((pair) => readPart(pair, kind, alpha, pair.name))),
        differ: heterogeneity(pairs.map(({ control, variant }) => logLift(control, variant))),
      }
    }),
  )
  const tested = read.flat().filter(({ differ }) => differ.pValue !== null)
  const adjusted = holm(tested.map(({ differ }) => differ.pValue!))
  return read.map((own) => own.map((each) => ({ ...each, adjustedPValue: adjusted[tested.indexOf(each)] ?? null })))
}
