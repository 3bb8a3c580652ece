import { matchesPageRule, type PageRule } from '../targeting/pageRule'
import { BANDS } from './behavior'
import { KIND, withinX, withinY, type Visits } from './visits'

/** What of pointing is drawn over a page. */
export type ClickKind = 'click' | 'rage' | 'dead'

/** A window's width in CSS pixels: at least, and below. */
export interface WidthRange {
  from: number
  until: number
}

/** Clicks within an element are counted in cells: so many from side to side and from top to bottom. */
export const CELLS = 20
/** Elements that are told with their cells; the rest are counted together. */
const MOST_ELEMENTS = 400

export interface ClickedElement {
  /** As `core/measurement/elementPath` reads it. */
  path: string
  label: string | null
  clicks: number
  visitors: number
  /** Number of the cell (row × CELLS + column) and clicks in it. */
  cells: [cell: number, clicks: number][]
}

export interface ClickMap {
  clicks: number
  visitors: number
  elements: ClickedElement[]
  /** Clicks on elements that are not among them. */
  others: number
}

/** Where people click on some pages, element by element, the most clicked first. */
export function clickMap(
  visits: Visits,
  selected: Uint8Array,
  page: PageRule,
  kind: ClickKind,
  width: WidthRange,
): ClickMap {
  const isPage = visits.addresses.table((address) => matchesPageRule(page, address))
  const wanted = KIND[kind]
  const counts = new Uint32Array(visits.elements.size)
  const people = new Uint32Array(visits.elements.size)
  const lastVisitor = new Float64Array(visits.elements.size).fill(-1)
  const isFitting = fittingSessions(visits, selected, width)
  let [clicks, visitors, last] = [0, 0, -1]
  for (const { count, kind: kinds, address, session, element, visitor } of visits.blocks())
    for (let row = 0; row < count; row++) {
      if (kinds[row] !== wanted || isPage[address[row]!] !== 1 || isFitting[session[row]!] !== 1) continue
      const own = element[row]!
      clicks++
      counts[own]!++
      if (last !== visitor[row]) {
        last = visitor[row]!
        visitors++
      }
      if (lastVisitor[own] === visitor[row]) continue
      lastVisitor[own] = visitor[row]!
      people[own]!++
    }
  const listed = [...counts.keys()]
    .filter((element) => element > 0 && counts[element]! > 0)
    .sort((a, b) => counts[b]! - counts[a]! || (visits.elements.texts[a]! < visits.elements.texts[b]! ? -1 : 1))
    .slice(0, MOST_ELEMENTS)
  const cells = cellsOf(visits, isFitting, isPage, wanted, listed)
  return {
    clicks,
    visitors,
    elements: listed.map((element, index) => ({
      path: visits.elements.texts[element]!,
      label: visits.labels.get(element) ?? null,
      clicks: counts[element]!,
      visitors: people[element]!,
      cells: occupied(cells.subarray(index * CELLS * CELLS, (index + 1) * CELLS * CELLS)),
    })),
    others: clicks - listed.reduce((sum, element) => sum + counts[element]!, 0),
  }
}

function occupied(cells: Uint32Array): [number, number][] {
  const found: [number, number][] = []
  for (let cell = 0; cell < cells.length; cell++) if (cells[cell]! > 0) found.push([cell, cells[cell]!])
  return found
}

function cellsOf(
  visits: Visits,
  isFitting: Uint8Array,
  isPage: Uint8Array,
  wanted: number,
  listed: readonly number[],
): Uint32Array {
  const placeOf = new Int32Array(visits.elements.size).fill(-1)
  listed.forEach((element, index) => (placeOf[element] = index))
  const cells = new Uint32Array(listed.length * CELLS * CELLS)
  const cellAt = (perMille: number) => Math.min(CELLS - 1, Math.max(0, Math.floor((perMille * CELLS) / 1000)))
  for (const { count, kind, address, session, element, detail } of visits.blocks())
    for (let row = 0; row < count; row++) {
      if (kind[row] !== wanted || isPage[address[row]!] !== 1 || isFitting[session[row]!] !== 1) continue
      const place = placeOf[element[row]!]!
      if (place < 0) continue
      const own = detail[row]!
      // Of bursts and dead clicks only the place on the page is told: the middle stands for them.
      const cell = own === 0 ? 10 * CELLS + 10 : cellAt(withinY(own)) * CELLS + cellAt(withinX(own))
      cells[place * CELLS * CELLS + cell]!++
    }
  return cells
}

/** Selected sessions whose window has such a width. */
function fittingSessions(visits: Visits, selected: Uint8Array, { from, until }: WidthRange): Uint8Array {
  const widths = visits.sessionWidth.values
  return selected.map((is, session) => (is === 1 && widths[session]! >= from && widths[session]! < until ? 1 : 0))
}

export interface ReadingMap {
  /** Sessions that told how far they have read. */
  sessions: number
  /** Visitors of them. */
  visitors: number
  /** Median height of the page, in CSS pixels. */
  height: number | null
  /** For each part of the page from top to bottom: sessions that had its middle in the window or above it. */
  reach: number[]
  /** For each part, mean ms in the window of a session. */
  attention: number[]
}

/** How far down some pages are read, and how long each part of them is looked at. */
export function readingMap(visits: Visits, selected: Uint8Array, page: PageRule, width: WidthRange): ReadingMap {
  const isPage = visits.addresses.table((address) => matchesPageRule(page, address))
  const isFitting = fittingSessions(visits, selected, width)
  const reach = new Array<number>(BANDS).fill(0)
  const attention = [...reach]
  const heights: number[] = []
  let sessions = 0
  let [visitors, lastVisitor] = [0, -1]
  let furthest = 0
  let last = -1
  const finish = () => {
    if (last >= 0) for (let band = 0; band < BANDS; band++) if (furthest >= (band + 0.5) / BANDS) reach[band]!++
  }
  for (const { count, kind, address, session, visitor, x, y, extra } of visits.blocks())
    for (let row = 0; row < count; row++) {
      if (kind[row] !== KIND.reading || isPage[address[row]!] !== 1 || isFitting[session[row]!] !== 1) continue
      if (session[row] !== last) {
        finish()
        last = session[row]!
        furthest = 0
        sessions++
        // Sessions of one visitor follow each other.
        if (visitor[row] !== lastVisitor) visitors++
        lastVisitor = visitor[row]!
      }
      const height = Math.max(1, y[row]!)
      heights.push(height)
      furthest = Math.max(furthest, x[row]! / height)
      const bands = visits.extras[extra[row]!] as readonly number[] | null
      bands?.forEach((ms, band) => (attention[band]! += ms))
    }
  finish()
  heights.sort((a, b) => a - b)
  return {
    sessions,
    visitors,
    height: heights[Math.floor((heights.length - 1) / 2)] ?? null,
    reach,
    attention: attention.map((ms) => (sessions === 0 ? 0 : ms / sessions)),
  }
}
