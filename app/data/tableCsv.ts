import { csvOf } from '~~/shared/csv'
import type { TableColumn } from './tableColumn'

/** A table as CSV, as it is shown: its columns in their order, its rows in theirs. */
export function tableCsv<Row>(columns: readonly TableColumn<Row>[], rows: readonly Row[]): string {
  const kept = columns.filter(({ isDrawing }) => !isDrawing)
  return csvOf(
    kept.map(({ header }) => header),
    rows.map((row) => kept.map(({ value }) => value(row))),
  )
}
