import { changedLevels, type NamedLevel } from '../../../core/preflight/factorFindings'
import type { ExperimentSheet } from '../../../shared/experiments/experiment'

/** What edits are said of: the variants beside the control, or the levels of a multivariate test. */
export function editedThings({ factors, variants }: ExperimentSheet): readonly NamedLevel[] {
  return factors.length > 0 ? changedLevels(factors) : variants.slice(1)
}
