import { CELLS, type ClickedElement } from './clickMap'

/** Where an element stands on the page, in CSS pixels. */
export interface PlacedBox {
  x: number
  y: number
  width: number
  height: number
}

/** Density of clicks over a page, cell by cell of a grid, row after row. */
export interface Density {
  columns: number
  rows: number
  /** Side of a cell in CSS pixels. */
  cell: number
  values: Float64Array
}

export const DENSITY_CELL = 8
/** Standard deviation by which a click is spread, in cells: a fingertip is about as wide. */
const SPREAD = 2
const REACH = 6
const KERNEL = Array.from({ length: 2 * REACH + 1 }, (_, index) =>
  Math.exp(-((index - REACH) ** 2) / (2 * SPREAD ** 2)),
)
const KERNEL_SUM = KERNEL.reduce((sum, each) => sum + each, 0)

/**
 * Density of clicks on a page as it stands now: each lies in its element where it lay in it then, and is spread by a
 * Gaussian (Silverman 1986, Density estimation, 4.2). What has no box any more is left out.
 *
 * @param boxes - box of each element, or null where the page does not have it
 */
export function clickDensity(
  elements: readonly Pick<ClickedElement, 'cells'>[],
  boxes: readonly (PlacedBox | null)[],
  page: { width: number; height: number },
): Density {
  const columns = Math.max(1, Math.ceil(page.width / DENSITY_CELL))
  const rows = Math.max(1, Math.ceil(page.height / DENSITY_CELL))
  const counts = new Float64Array(columns * rows)
  elements.forEach(({ cells }, index) => {
    const box = boxes[index]
    if (!box) return
    for (const [cell, clicks] of cells) {
      const x = box.x + (((cell % CELLS) + 0.5) / CELLS) * box.width
      const y = box.y + ((Math.floor(cell / CELLS) + 0.5) / CELLS) * box.height
      const column = Math.floor(x / DENSITY_CELL)
      const row = Math.floor(y / DENSITY_CELL)
      if (column >= 0 && column < columns && row >= 0 && row < rows) counts[row * columns + column]! += clicks
    }
  })
  const across = blurred(counts, columns, rows, 1, columns)
  return { columns, rows, cell: DENSITY_CELL, values: blurred(across, rows, columns, columns, 1) }
}

/** Spreads each value along one direction: lines of a length, their values a step apart. */
function blurred(values: Float64Array, length: number, lines: number, step: number, lineStep: number): Float64Array {
  const spread = new Float64Array(values.length)
  for (let line = 0; line < lines; line++)
    for (let place = 0; place < length; place++) {
      const value = values[line * lineStep + place * step]!
      if (value === 0) continue
      for (let offset = -REACH; offset <= REACH; offset++) {
        const target = place + offset
        if (target < 0 || target >= length) continue
        spread[line * lineStep + target * step]! += (value * KERNEL[offset + REACH]!) / KERNEL_SUM
      }
    }
  return spread
}

/** Levels at which lines are drawn: equal steps of the square root, so that what is rarely clicked is seen as well. */
export function contourLevels(density: Density, count: number): number[] {
  const most = density.values.reduce((max, each) => Math.max(max, each), 0)
  if (most === 0) return []
  return Array.from({ length: count }, (_, index) => most * ((index + 1) / (count + 1)) ** 2)
}
