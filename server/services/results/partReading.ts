import type { Part } from '../../../core/analysis/part'
import type { SegmentReadingView } from '../../../shared/experiments/resultsReplies'

/** A part of the visitors as it is shown. */
export function partReading(part: Part): SegmentReadingView {
  const { name, visitors, controlMean, mean, lift, pValue, adjustedPValue } = part
  return { value: name, visitors, controlMean, mean, lift, pValue, adjustedPValue }
}
