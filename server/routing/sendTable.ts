import { stringify } from 'csv-stringify/sync'
import { setHeader, type H3Event } from 'h3'

export type TableRow = Record<string, string | number | null>

/** Answers with a table as CSV. Cells that a spreadsheet would run as a formula are defused. */
export function sendTable(event: H3Event, name: string, rows: readonly TableRow[]): string {
  setHeader(event, 'content-type', 'text/csv; charset=utf-8')
  setHeader(event, 'content-disposition', `attachment; filename="${name}.csv"`)
  return stringify([...rows], { header: true, escape_formulas: true })
}
