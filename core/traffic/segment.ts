/** What visitors are told apart by at their first exposure, and kept with it. */
export const SEGMENT_DIMENSIONS = ['device', 'system', 'browser', 'country', 'language', 'source', 'visitor'] as const
export type SegmentDimension = (typeof SEGMENT_DIMENSIONS)[number]

/** Which visitors of an experiment a segment is. */
export interface SegmentPlace {
  dimension: SegmentDimension
  value: string
}
