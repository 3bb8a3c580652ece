import type { TableColumn } from './tableColumn'

type Interval = readonly [number, number] | null

/** The two ends of an interval, a column each: for export, and for reading where a track is not exact enough. */
export function intervalColumns<Row>(
  intervalOf: (row: Row) => Interval,
  { show = formatLift, isExtra }: { show?: (end: number | null) => string; isExtra?: boolean } = {},
): TableColumn<Row>[] {
  return [
    { id: 'low', header: 'Interval from', place: 0 } as const,
    { id: 'high', header: 'Interval to', place: 1 } as const,
  ].map(({ place, ...column }) => ({
    ...column,
    isExtra,
    value: (row: Row) => intervalOf(row)?.[place] ?? null,
    show: (row: Row) => show(intervalOf(row)?.[place] ?? null),
    isNumeric: true,
  }))
}
