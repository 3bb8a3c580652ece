import Papa from 'papaparse'

/** What a cell of a table can hold. */
export type CsvCell = string | number | boolean | null | undefined

/**
 * A table as CSV (RFC 4180). Numbers stay numbers; a text that a spreadsheet would take for a formula is marked as text.
 *
 * @param header - names of the columns
 * @param rows - cells in the order of the columns
 * @example csvOf(['name', 'lift'], [['=cmd()', -0.05]]) // "name,lift\r\n'=cmd(),-0.05"
 */
export function csvOf(header: readonly string[], rows: readonly (readonly CsvCell[])[]): string {
  return Papa.unparse(
    { fields: [...header], data: rows.map((row) => [...row]) },
    // Asked of texts only: a negative number begins with a sign and is none.
    { escapeFormulae: /^[=+\-@\t\r]/ },
  )
}
