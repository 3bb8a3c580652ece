import Papa from 'papaparse'
import type { TableColumn } from './tableColumn'

/**
 * A table as CSV, as it is shown: its columns in their order, its rows in theirs. Numbers stay numbers, and a text that a
 * spreadsheet would take for a formula is marked as text.
 */
export function tableCsv<Row>(columns: readonly TableColumn<Row>[], rows: readonly Row[]): string {
  const kept = columns.filter(({ isDrawing }) => !isDrawing)
  return Papa.unparse(
    { fields: kept.map(({ header }) => header), data: rows.map((row) => kept.map(({ value }) => value(row))) },
    // Negative numbers begin with a sign and are none.
    { escapeFormulae: /^[=+\-@\t\r](?!\d)/ },
  )
}
