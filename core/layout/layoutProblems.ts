import { shortened } from '../edits/element'
import { contrast, neededContrast } from './contrast'
import type { Box, MeasuredPage, MeasuredText } from './measuredPage'

export type LayoutProblemKind = 'overlap' | 'cut' | 'overflow' | 'image' | 'contrast'

/** Something about a variant's page that looks wrong, and that is not so in the control. */
export interface LayoutProblem {
  kind: LayoutProblemKind
  /** A sentence. */
  text: string
  /** Where it is. */
  box: Box
}

/** Of each kind, those that a page tells at most. */
const MOST_OF_A_KIND = 10
/** Lines touch where letters reach below them: only more than this share of the smaller one is an overlap. */
const OVERLAP = 0.2
const LEAST_PIXELS = 3
/** Contrast is compared in steps that can be seen. */
const WORSE = 0.1

/**
 * What looks wrong on the page with a variant, and does not look so without it.
 *
 * @param variant - the page with its edits, in one width
 * @param control - the page as it is, in the same width; null tells everything
 */
export function layoutProblems(variant: MeasuredPage, control: MeasuredPage | null): LayoutProblem[] {
  return [
    ...overflow(variant, control),
    ...overlaps(variant, control),
    ...cutTexts(variant, control),
    ...brokenImages(variant, control),
    ...poorContrast(variant, control),
  ]
}

function overflow(variant: MeasuredPage, control: MeasuredPage | null): LayoutProblem[] {
  if (variant.contentWidth <= variant.width + 1) return []
  if (control && variant.contentWidth <= control.contentWidth + 1) return []
  const known = new Set(control?.wide.map(({ path }) => path))
  const told = variant.wide.filter(({ path }) => !known.has(path)).slice(0, MOST_OF_A_KIND)
  const width = `The page is ${Math.round(variant.contentWidth)} pixels wide in a window of ${variant.width}`
  if (told.length === 0)
    return [{ kind: 'overflow', text: `${width}.`, box: { x: variant.width - 8, y: 0, width: 8, height: 80 } }]
  return told.map(({ box, text }) => ({
    kind: 'overflow',
    text: text ? `${width}: ${quoted(text)} sticks out.` : `${width}: something sticks out here.`,
    box,
  }))
}

function overlaps(variant: MeasuredPage, control: MeasuredPage | null): LayoutProblem[] {
  const known = new Set(control ? overlapping(control).map(({ key }) => key) : [])
  return overlapping(variant)
    .filter(({ key }) => !known.has(key))
    .slice(0, MOST_OF_A_KIND)
    .map(({ one, other, box }) => ({
      kind: 'overlap',
      text: `${quoted(one.text)} and ${quoted(other.text)} lie over each other.`,
      box,
    }))
}

interface Overlap {
  key: string
  one: MeasuredText
  other: MeasuredText
  box: Box
}

/** Pairs of texts whose lines lie over each other, found from top to bottom: only lines that begin above the end of one can. */
function overlapping({ texts }: MeasuredPage): Overlap[] {
  const lines = texts.flatMap((text) => text.lines.map((box) => ({ text, box }))).sort((a, b) => a.box.y - b.box.y)
  const found = new Map<string, Overlap>()
  for (const [place, { text, box }] of lines.entries()) {
    for (let next = place + 1; next < lines.length && lines[next]!.box.y < box.y + box.height; next++) {
      const other = lines[next]!
      if (other.text === text || !liesOver(box, other.box)) continue
      const key = [text, other.text].map(nameOf).sort().join('\n')
      if (!found.has(key)) found.set(key, { key, one: text, other: other.text, box: around(box, other.box) })
    }
  }
  return [...found.values()]
}

function liesOver(one: Box, other: Box): boolean {
  const width = Math.min(one.x + one.width, other.x + other.width) - Math.max(one.x, other.x)
  const height = Math.min(one.y + one.height, other.y + other.height) - Math.max(one.y, other.y)
  if (width < LEAST_PIXELS || height < LEAST_PIXELS) return false
  return width * height > OVERLAP * Math.min(one.width * one.height, other.width * other.height)
}

function cutTexts(variant: MeasuredPage, control: MeasuredPage | null): LayoutProblem[] {
  const known = new Set(control?.texts.filter(({ isCut }) => isCut).map(nameOf))
  return variant.texts
    .filter((text) => text.isCut && !known.has(nameOf(text)))
    .slice(0, MOST_OF_A_KIND)
    .map((text) => ({ kind: 'cut', text: `${quoted(text.text)} is cut off.`, box: around(...text.lines) }))
}

function brokenImages(variant: MeasuredPage, control: MeasuredPage | null): LayoutProblem[] {
  const known = new Set(control?.brokenImages.map(({ address }) => address))
  return variant.brokenImages
    .filter(({ address }) => !known.has(address))
    .slice(0, MOST_OF_A_KIND)
    .map(({ address, box }) => ({ kind: 'image', text: `The picture ${shortened(address, 80)} does not load.`, box }))
}

function poorContrast(variant: MeasuredPage, control: MeasuredPage | null): LayoutProblem[] {
  const before = new Map(control?.texts.map((text) => [nameOf(text), contrastOf(text)]))
  return variant.texts
    .flatMap((text): LayoutProblem[] => {
      const now = contrastOf(text)
      const needed = neededContrast(text)
      if (now === null || now >= needed) return []
      const was = before.get(nameOf(text)) ?? null
      if (was !== null && now > was - WORSE) return []
      const compared = was === null ? '' : `, in the control ${was.toFixed(1)}`
      return [
        {
          kind: 'contrast',
          text: `${quoted(text.text)} has a contrast of ${now.toFixed(1)} to 1${compared}; at least ${needed} can be read well.`,
          box: around(...text.lines),
        },
      ]
    })
    .slice(0, MOST_OF_A_KIND)
}

function contrastOf({ color, background }: MeasuredText): number | null {
  return background && contrast(color, background)
}

/** A text is the same in both where its element is; its words may be what changed. */
function nameOf({ path }: MeasuredText): string {
  return path
}

function around(...boxes: Box[]): Box {
  const x = Math.min(...boxes.map((box) => box.x))
  const y = Math.min(...boxes.map((box) => box.y))
  return {
    x,
    y,
    width: Math.max(...boxes.map((box) => box.x + box.width)) - x,
    height: Math.max(...boxes.map((box) => box.y + box.height)) - y,
  }
}

function quoted(text: string): string {
  return `“${shortened(text, 48)}”`
}
