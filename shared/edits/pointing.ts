import { array, boolean, lazy, mixed, number, object, string } from '../yup'
import type { EditContent, Edit } from '../../core/edits/content'
import type { ElementClues, OfElement } from '../../core/edits/element'
import type { Picture } from '../../core/edits/image'
import type { ServedThing } from '../delivery/preview'
import type { Declarations } from '../../core/edits/style'

/**
 * Messages between Vetch and a page that is open for pointing. Both sides check the origin of every message;
 * the page's are tagged with the token that it was opened with. A page may claim anything: what it says is read by the
 * schemas below, and shown as text.
 */

/** An element by the number that the page knows it by, for as long as it is open. */
export interface NamedElement {
  ref: number
  /** What it is, in words. */
  words: string
}

/** What can be written in the place of an element's content. */
export type ElementContent =
  | 'text'
  /** Text with links and other parts of a line. */
  | 'line'
  | 'elements'
  /** It has no inside, as pictures and fields have none. */
  | 'none'

/** One element that was pointed at, as it is without the edits of the variant; it stands where they have put it. */
export interface PointedElement extends NamedElement, Required<Pick<OfElement, 'selector'>> {
  clues: ElementClues
  /** How many elements the selector finds. */
  matches: number
  /** Whether an edit has brought it to the page. */
  isInserted: boolean
  /** Whether the page has changed its text by itself since it was opened. */
  isChanging: boolean
  tag: string
  text: string
  content: ElementContent
  /** Of `line` alone: its markup, as `core/edits/richText.ts` has it. */
  line: string | null
  /** What is inside; null where it is too long to be edited. */
  html: string | null
  attributes: Record<string, string>
  classes: string[]
  picture: Picture | null
  /** Values of what the controls change. */
  look: Declarations
  /** From the outermost inward, without itself. */
  path: NamedElement[]
  children: NamedElement[]
  /** Which of its container's elements it is, from 0. */
  place: number
  /** How many elements its container holds. */
  siblings: number
  /** Of a line or text alone: what is inside as it is shown, with the edits. */
  shownHtml: string | null
  /** Where it is drawn, in the frame's pixels. */
  box: Box
}

/** In CSS pixels; taller pages are not drawn over. */
const LARGEST_PAGE = 60_000

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** How an edit fares on the page. */
export interface EditOutcome {
  id: string
  /** How many elements its selector finds on the page as it is. */
  matches: number
  /** `clues`: the selector finds nothing, and what it was on is found by its description. */
  found: 'selector' | 'clues' | 'nowhere'
  /** Whether it puts fixed words in the place of a text that the page changes by itself. */
  isChanging: boolean
}

/** An edit that somebody has made on the page itself, by dragging. */
export type MadeOnPage = Extract<EditContent, { kind: 'move' | 'rearrange' | 'style' }>

export type FromPage =
  | { vetch: 'ready'; token: string; address: string; title: string }
  | { vetch: 'pointed'; token: string; elements: PointedElement[] }
  /** Somebody has followed a link in a copy of a page, which cannot go there itself. */
  | { vetch: 'followed'; token: string; path: string }
  | { vetch: 'walked'; token: string; words: string }
  | { vetch: 'applied'; token: string; outcomes: EditOutcome[] }
  /** By how many pixels the edits make the page wider than its window. */
  | { vetch: 'sideways'; token: string; by: number }
  | { vetch: 'made'; token: string; edits: MadeOnPage[] }
  /** The script of the variant threw; `line` is 0 where that is not known. */
  | { vetch: 'failed'; token: string; message: string; line: number }
  | { vetch: 'pressed'; token: string; key: 'escape' | 'undo' | 'redo' | 'delete' }
  | { vetch: 'located'; token: string; boxes: (Box | null)[]; page: { width: number; height: number } }

/** A step of an element among others. */
export type Step = 'earlier' | 'later' | 'out'

export type ToPage =
  /** Shows the page with these edits, in their order, and no others. */
  | { vetch: 'edits'; edits: Edit[] }
  /** Shows the page with what is served there anyway, under the edits. */
  | { vetch: 'served'; things: ServedThing[] }
  | { vetch: 'select'; refs: number[] }
  /** Selects what a selector finds, or its clues. */
  | { vetch: 'show'; selector: string; clues: ElementClues | null }
  | { vetch: 'hover'; ref: number | null }
  /** Whether pointing picks elements; otherwise the page reacts as it does for visitors. */
  | { vetch: 'mode'; isPointing: boolean }
  | { vetch: 'step'; step: Step }
  /** Asks where elements stand, by the paths that clicks keep; told again whenever the page changes. */
  | { vetch: 'locate'; paths: string[] }

const LONGEST_HTML = 200_000
const text = (longest: number) => string().strict().max(longest).defined()
const size = number().strict().min(-LARGEST_PAGE).max(LARGEST_PAGE).required()
const count = number().strict().integer().min(0).max(1_000_000).required()
const boxSchema = object({ x: size, y: size, width: size, height: size }).noUnknown()
const namedSchema = object({ ref: count, words: text(200) }).noUnknown()
const cluesSchema = object({
  tag: text(60),
  role: text(60).optional(),
  text: text(80),
  before: text(80),
  after: text(80),
}).noUnknown()
/** Texts by their names, of which there are not too many. */
const recordSchema = (longest: number) =>
  mixed<Record<string, string>>(
    (value): value is Record<string, string> =>
      typeof value === 'object' &&
      !Array.isArray(value) &&
      Object.entries(value as object).length <= 200 &&
      Object.entries(value as object).every(
        ([name, each]) => name.length <= 200 && typeof each === 'string' && each.length <= longest,
      ),
  ).required()

const pointedSchema = namedSchema
  .shape({
    selector: text(500),
    clues: cluesSchema,
    matches: count,
    isInserted: boolean().strict().required(),
    isChanging: boolean().strict().required(),
    tag: text(60),
    text: text(20_000),
    content: string()
      .oneOf(['text', 'line', 'elements', 'none'] as const)
      .required(),
    line: text(LONGEST_HTML).nullable(),
    html: text(LONGEST_HTML).nullable(),
    attributes: recordSchema(5000),
    classes: array(text(200)).max(100).required(),
    picture: object({ address: text(5000), alt: text(2000) })
      .nullable()
      .default(undefined),
    look: recordSchema(500),
    path: array(namedSchema).max(60).required(),
    children: array(namedSchema).max(60).required(),
    place: count,
    siblings: count,
    shownHtml: text(LONGEST_HTML).nullable(),
    box: boxSchema,
  })
  .noUnknown()

/** What dragging makes; whatever else an edit holds is checked where it is kept. */
const madeSchema = lazy((edit: { kind?: unknown } | undefined) => {
  const target = { selector: text(500), clues: cluesSchema.nullable().default(undefined) }
  const kindOf = <Kind extends string>(kind: Kind) =>
    string()
      .oneOf([kind] as const)
      .required()
  if (edit?.kind === 'move')
    return object({
      ...target,
      kind: kindOf('move'),
      to: text(500),
      toClues: cluesSchema.nullable().default(undefined),
      place: string()
        .oneOf(['before', 'after', 'first', 'last'] as const)
        .required(),
    }).noUnknown()
  if (edit?.kind === 'style')
    return object({
      ...target,
      kind: kindOf('style'),
      value: recordSchema(100),
      original: recordSchema(100),
    }).noUnknown()
  return object({ ...target, kind: kindOf('rearrange'), order: array(count).max(500).required() }).noUnknown()
})

const MESSAGES = {
  ready: { address: text(5000), title: text(5000) },
  pointed: { elements: array(pointedSchema).max(50).required() },
  followed: { path: text(2000) },
  walked: { words: text(200) },
  applied: {
    outcomes: array(
      object({
        id: text(40),
        matches: count,
        found: string()
          .oneOf(['selector', 'clues', 'nowhere'] as const)
          .required(),
        isChanging: boolean().strict().required(),
      }),
    )
      .max(500)
      .required(),
  },
  sideways: { by: number().strict().min(0).max(1_000_000).required() },
  made: { edits: array(madeSchema).max(100).required() },
  failed: { message: text(300), line: count },
  pressed: {
    key: string()
      .oneOf(['escape', 'undo', 'redo', 'delete'] as const)
      .required(),
  },
  located: {
    boxes: array(boxSchema.nullable().default(undefined)).required(),
    page: object({ width: size, height: size }).required(),
  },
}

/** What a message holds, or null for one that is not part of this protocol. */
export function readFromPage(data: unknown, token: string): FromPage | null {
  if (!data || typeof data !== 'object' || !('vetch' in data) || !('token' in data) || data.token !== token) return null
  const kind = data.vetch as keyof typeof MESSAGES
  if (typeof kind !== 'string' || !Object.hasOwn(MESSAGES, kind)) return null
  try {
    return object({ vetch: text(20), token: text(200), ...MESSAGES[kind] })
      .noUnknown()
      .strict()
      .validateSync(data) as unknown as FromPage
  } catch {
    return null
  }
}
