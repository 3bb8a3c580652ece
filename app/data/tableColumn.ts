/** A column of a table: what is sorted by and exported, and how it is shown. */
export interface TableColumn<Row> {
  id: string
  header: string
  value: (row: Row) => string | number | null
  /** As it is read; the value itself where left out. A cell that is more than text has a slot instead. */
  show?: (row: Row) => string
  isNumeric?: boolean
  /** Names the row: shown first on a phone, and never hidden. */
  isHeading?: boolean
  /** Not shown before somebody chooses it. */
  isExtra?: boolean
  /** Its words have no order of their own. */
  isUnsorted?: boolean
  /** Of a drawing beside the number it is drawn from: nothing to sort by or to export. */
  isDrawing?: boolean
}

/** What stands in a cell. */
export function cellText<Row>(column: TableColumn<Row>, row: Row): string {
  if (column.show) return column.show(row)
  const value = column.value(row)
  return value === null ? '–' : String(value)
}
