import { setHeader, type H3Event } from 'h3'
import { csvOf } from '../../shared/csv'

export type TableRow = Record<string, string | number | null>

/** Answers with a table as CSV; the first row names its columns. */
export function sendTable(event: H3Event, name: string, rows: readonly TableRow[]): string {
  setHeader(event, 'content-type', 'text/csv; charset=utf-8')
  setHeader(event, 'content-disposition', `attachment; filename="${name}.csv"`)
  const header = Object.keys(rows[0] ?? {})
  return csvOf(
    header,
    rows.map((row) => header.map((column) => row[column])),
  )
}
