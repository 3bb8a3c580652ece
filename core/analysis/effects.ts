import { benjaminiHochberg } from '../statistics/benjaminiHochberg'

/** What one of many metrics says of the same visitors. */
export interface MeasuredEffect {
  /** Valid however often it is looked at; null where the data cannot give one. */
  pValue: number | null
  /** Relative; null where the data cannot give one. */
  lift: number | null
  /** Whether there is not enough of it to be read yet. */
  isShort: boolean
}

/** The same among all of them. */
export type RankedEffect<Effect extends MeasuredEffect> = Effect & {
  /** Corrected over all metrics that can be read; null where it cannot be. */
  adjustedPValue: number | null
  /** Whether it has moved, with the expected share of false ones among those at most the level. */
  hasMoved: boolean
}

/**
 * Effects on many metrics at once: which of them have moved, those first. One that cannot be read yet is not corrected
 * for, and comes last.
 *
 * @param level - expected share of metrics that have not moved among those that are told to have, from 0 to 1
 * @returns the effects by their adjusted p-values, then by the size of the lift
 * @example rankEffects([{ pValue: 0.001, lift: 0.1, isShort: false }], 0.05)[0].hasMoved // true
 * @see Benjamini, Hochberg (1995), Controlling the false discovery rate, J. Royal Stat. Soc. B 57
 */
export function rankEffects<Effect extends MeasuredEffect>(
  effects: readonly Effect[],
  level: number,
): RankedEffect<Effect>[] {
  const isRead = ({ pValue, isShort }: MeasuredEffect) => pValue !== null && !isShort
  const read = effects.filter(isRead)
  const adjusted = benjaminiHochberg(read.map(({ pValue }) => pValue!))
  const rest = effects.filter((effect) => !isRead(effect))
  return [
    ...read.map((effect, index) => {
      const adjustedPValue = adjusted[index]!
      return { ...effect, adjustedPValue, hasMoved: adjustedPValue <= level }
    }),
    ...rest.map((effect) => ({ ...effect, adjustedPValue: null, hasMoved: false })),
  ].sort(
    (one, other) =>
      (one.adjustedPValue ?? 2) - (other.adjustedPValue ?? 2) || Math.abs(other.lift ?? 0) - Math.abs(one.lift ?? 0),
  )
}
