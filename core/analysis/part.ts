import { benjaminiHochberg } from '../statistics/benjaminiHochberg'
import { compareArms, type LiftEstimate } from '../statistics/compareArms'
import type { ArmEstimate, MetricKind } from '../statistics/estimate'

/** A variant against the control among a part of the visitors, for one look. */
export interface Part {
  /** What part. */
  name: string
  /** In the control and the variant together. */
  visitors: number
  controlMean: number | null
  mean: number | null
  lift: LiftEstimate
  pValue: number | null
  /** Corrected over all parts that it stands beside (Benjamini, Hochberg 1995). */
  adjustedPValue: number | null
}

/** @param alpha - two-sided error level of the interval */
export function readPart(
  { control, variant }: { control: ArmEstimate; variant: ArmEstimate },
  kind: MetricKind,
  alpha: number,
  name: string,
): Part {
  // What is planned matters to readings for any look alone.
  const plannedVisitors = { control: Math.max(1, control.visitors), variant: Math.max(1, variant.visitors) }
  const { lift, pValue } = compareArms(control, variant, { kind, alpha, plannedVisitors })
  return {
    name,
    visitors: control.visitors + variant.visitors,
    controlMean: control.mean,
    mean: variant.mean,
    lift,
    pValue,
    adjustedPValue: null,
  }
}

/** With their p-values corrected over all of them. */
export function correctedParts<Own extends Part>(parts: readonly Own[]): Own[] {
  const tested = parts.filter(({ pValue }) => pValue !== null)
  const adjusted = benjaminiHochberg(tested.map(({ pValue }) => pValue!))
  return parts.map((each) => ({ ...each, adjustedPValue: adjusted[tested.indexOf(each)] ?? null }))
}
