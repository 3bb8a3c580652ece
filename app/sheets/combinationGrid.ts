import type { Combination } from '~~/core/factors/combinations'
import type { SheetFactor } from '~~/core/sheet/content'

export interface GridRow {
  /** Levels of all factors but the last that begin in this row, each with how many rows it heads. */
  headings: { id: string; name: string; rows: number }[]
  cells: Combination[]
}

/** The combinations as rows of a table, with the last factor's levels as columns. */
export function gridRows(factors: readonly SheetFactor[], combinations: readonly Combination[]): GridRow[] {
  const columns = factors.at(-1)?.levels.length ?? 0
  if (columns === 0) return []
  const heads = factors.slice(0, -1)
  const rows: GridRow[] = []
  for (let row = 0; row * columns < combinations.length; row++) {
    const cells = combinations.slice(row * columns, (row + 1) * columns)
    const headings = heads.flatMap((_, place) => {
      const spanned = heads.slice(place + 1).reduce((product, { levels }) => product * levels.length, 1)
      const level = cells[0]!.levels[place]!
      return row % spanned === 0 ? [{ id: level.id, name: level.name, rows: spanned }] : []
    })
    rows.push({ headings, cells })
  }
  return rows
}
