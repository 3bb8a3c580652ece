import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { changedLevels, type NamedLevel } from '../../../core/preflight/factorFindings'

/** What edits are said of: the variants beside the control, or the levels of a multivariate test. */
export function editedThings({ factors, variants }: ExperimentSheet): readonly NamedLevel[] {
  return factors.length > 0 ? changedLevels(factors) : variants.slice(1)
}
