import { elementInWords } from '../measurement/elementInWords'
import { KIND, STEP_KINDS, type Block, type StepKind, type Visits } from './visits'

/** What is marked on a strip: everything but readings and forms that came into view. */
export type MarkKind = Exclude<StepKind, 'page' | 'reading' | 'form' | 'asked'>

/** A visit from its beginning to its end: a notch a page, a mark for what was done. Times in ms from the first step. */
export interface Strip {
  visitor: string
  session: string
  /** ms since 1970 */
  began: number
  length: number
  device: string
  browser: string
  country: string | null
  source: string | null
  /** new or returning */
  visits: string | null
  pages: { at: number; page: string }[]
  marks: { at: number; kind: MarkKind; words: string | null }[]
}

/** What must have happened in a visit; everything that is named. */
export interface Happened {
  kinds: readonly MarkKind[]
  /** It was in a form at last, and did not send it. */
  hasLeftForm: boolean
  /** ms */
  shortest: number
  /** Part of the label or path of an element that was clicked; null for any. */
  clicked?: string | null
}

const MOST_MARKS = 500
const LEFT_OUT = new Set<number>([KIND.page, KIND.reading, KIND.form, KIND.asked])

/**
 * Strips of the named sessions that are selected and in which it happened, in the order of their names.
 *
 * @param selected - 1 for each session that is looked at
 */
export function stripsOf(
  visits: Visits,
  selected: Uint8Array,
  sessions: readonly { visitor: string; session: string }[],
  happened: Happened,
): Strip[] {
  const wanted = new Map<number, number>()
  sessions.forEach(({ visitor, session }, index) => {
    const number = visits.sessionOf(visitor, session)
    if (number !== undefined && selected[number] === 1) wanted.set(number, index)
  })
  const isClicked = happened.clicked ? elementsWith(visits, happened.clicked) : null
  const found: { index: number; strip: Strip }[] = []
  for (const block of visits.blocks())
    for (let row = 0; row < block.count;) {
      const session = block.session[row]!
      let end = row + 1
      while (end < block.count && block.session[end] === session) end++
      const index = wanted.get(session)
      if (index !== undefined && hasHappened(block, row, end, happened, isClicked))
        found.push({ index, strip: stripOf(visits, block, row, end, sessions[index]!) })
      row = end
    }
  return found.sort((a, b) => a.index - b.index).map(({ strip }) => strip)
}

/** 1 for each element whose label or path has some words. */
function elementsWith(visits: Visits, words: string): Uint8Array {
  const wanted = words.toLowerCase()
  return Uint8Array.from({ length: visits.elements.size }, (_, element) => {
    const texts = [visits.labels.get(element) ?? '', element === 0 ? '' : visits.elements.texts[element]!]
    return texts.some((text) => text.toLowerCase().includes(wanted)) ? 1 : 0
  })
}

function hasHappened(
  { kind, at, element }: Block,
  first: number,
  end: number,
  wanted: Happened,
  isClicked: Uint8Array | null,
): boolean {
  const kinds = new Set<number>()
  let isInForm = false
  let wasClicked = isClicked === null
  for (let row = first; row < end; row++) {
    kinds.add(kind[row]!)
    if (kind[row] === KIND.click && isClicked?.[element[row]!] === 1) wasClicked = true
    if (kind[row] === KIND.field) isInForm = true
    if (kind[row] === KIND.submit) isInForm = false
  }
  return (
    wasClicked &&
    wanted.kinds.every((each) => kinds.has(KIND[each])) &&
    (!wanted.hasLeftForm || isInForm) &&
    at[end - 1]! - at[first]! >= wanted.shortest
  )
}

function stripOf(
  visits: Visits,
  block: Block,
  first: number,
  end: number,
  name: { visitor: string; session: string },
): Strip {
  const session = block.session[first]!
  const value = (dimension: 'device' | 'browser' | 'country' | 'source' | 'visitor') =>
    visits.dimensions[dimension].texts[visits.sessionDimensions[dimension].values[session]!] || null
  const began = block.at[first]!
  const strip: Strip = {
    ...name,
    began,
    length: block.at[end - 1]! - began,
    device: value('device') ?? '',
    browser: value('browser') ?? '',
    country: value('country'),
    source: value('source'),
    visits: value('visitor'),
    pages: [],
    marks: [],
  }
  for (let row = first; row < end; row++) {
    const at = block.at[row]! - began
    const kind = block.kind[row]!
    if (kind === KIND.page)
      strip.pages.push({ at, page: visits.pages.texts[visits.pageOfAddress.values[block.address[row]!]!]! })
    if (LEFT_OUT.has(kind) || strip.marks.length >= MOST_MARKS) continue
    const path = visits.elements.texts[block.element[row]!]
    const label = visits.labels.get(block.element[row]!) ?? visits.names.texts[block.name[row]!]
    strip.marks.push({
      at,
      kind: STEP_KINDS[kind] as MarkKind,
      words: label || (path ? elementInWords({ path, label: null }) : null),
    })
  }
  return strip
}
