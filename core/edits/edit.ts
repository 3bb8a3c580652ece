import { attributeKind } from './attribute'
import { classesKind } from './classes'
import { cssKind, scriptKind } from './code'
import {
  isOfElement,
  type DeliveredEdit,
  type Edit,
  type EditContent,
  type EditKindName,
  type EditMarks,
} from './content'
import { hideKind, removeKind } from './hide'
import { htmlKind } from './html'
import { imageKind } from './image'
import { insertKind } from './insert'
import type { EditKind } from './kind'
import { moveKind } from './move'
import { rearrangeKind } from './rearrange'
import { redirectKind } from './redirect'
import { richTextKind } from './richText'
import { styleKind } from './style'
import { textKind } from './text'
import { separateByWidth } from './widths'

const LONGEST_SELECTOR = 500

const KINDS: { [Kind in EditKindName]: EditKind<Extract<EditContent, { kind: Kind }>> } = {
  text: textKind,
  richText: richTextKind,
  html: htmlKind,
  insert: insertKind,
  attribute: attributeKind,
  image: imageKind,
  style: styleKind,
  classes: classesKind,
  move: moveKind,
  rearrange: rearrangeKind,
  hide: hideKind,
  remove: removeKind,
  css: cssKind,
  script: scriptKind,
  redirect: redirectKind,
}

export const EDIT_KINDS = Object.keys(KINDS) as EditKindName[]

function kindOf<Content extends EditContent>({ kind }: Content): EditKind<Content> {
  return KINDS[kind] as unknown as EditKind<Content>
}

/**
 * What is wrong with an edit, in words for the person who made it.
 *
 * @returns an empty list when the edit can be applied
 */
export function editProblems(edit: EditContent): string[] {
  const problems: string[] = []
  if (isOfElement(edit)) {
    if (!edit.selector.trim()) problems.push('The edit names no element. Point at one on the page.')
    if (edit.selector.length > LONGEST_SELECTOR)
      problems.push(`The element's selector is longer than ${LONGEST_SELECTOR} characters.`)
  }
  return [...problems, ...kindOf(edit).problems(edit)]
}

/**
 * One line that says what an edit does.
 *
 * @example describeEdit({ kind: 'text', selector: 'h1', original: 'Hello', value: 'Welcome' })
 * // 'Text of h1: “Hello” becomes “Welcome”'
 */
export function describeEdit(edit: EditContent): string {
  return kindOf(edit).describe(edit)
}

/** What an edit is called: by the name that somebody gave it, or else by what it does. */
export function editName(edit: EditContent & EditMarks): string {
  return edit.title?.trim() || describeEdit(edit)
}

/**
 * What an edit changes, as a name; null for one that stands for itself, such as an insertion. Two edits of one name
 * get into each other's way.
 */
export function changedBy(edit: EditContent & EditMarks): string | null {
  const name = kindOf(edit).changes?.(edit)
  return name === undefined ? null : `${edit.page ? `${edit.page.match} ${edit.page.value} ` : ''}${name}`
}

/**
 * The edits in the order of being applied, with one for those that change the same thing: a redirect alone, then
 * stylesheets, so that nothing is seen without them, then elements, and scripts at the end. Those that are off are left
 * out.
 *
 * @returns a new list; the first mention of a thing keeps its place
 */
export function orderEdits<Any extends EditContent & EditMarks>(edits: readonly Any[]): Any[] {
  const bySubject = new Map<string, Any[]>()
  for (const [place, edit] of edits.entries()) {
    if (edit.isOff) continue
    const name = changedBy(edit) ?? `place ${place}`
    bySubject.set(name, [...(bySubject.get(name) ?? []), edit])
  }
  const sound = [...bySubject.values()].flatMap((same) => separateByWidth(same, merged)).filter((edit) => !isIdle(edit))
  const redirect = sound.find(({ kind, page }) => kind === 'redirect' && !page)
  return redirect ? [redirect] : sound.sort((a, b) => stage(a) - stage(b))
}

/** Two edits of the same as one; null where they leave it as it is. */
function merged<Any extends EditContent & EditMarks>(earlier: Any, later: Any): Any | null {
  const { merge } = kindOf(later)
  // Two kinds of edit may change the same, as texts with and without links do: then the later counts.
  const both = merge && earlier.kind === later.kind ? merge(earlier, later) : later
  return both && { ...later, ...both }
}

function stage({ kind }: EditContent): number {
  return ['redirect', 'css'].includes(kind) ? 0 : kind === 'script' ? 2 : 1
}

/** Whether an edit leaves everything as it is. */
export function isIdle(edit: EditContent): boolean {
  if (edit.kind === 'style') return Object.keys(edit.value).length === 0
  if (edit.kind === 'classes') return edit.add.length + edit.remove.length === 0
  if (edit.kind === 'rearrange') return edit.order.every((place, index) => place === index)
  return 'original' in edit && JSON.stringify(edit.value) === JSON.stringify(edit.original)
}

/** What goes to browsers of an edit: neither its id and name nor what was there before. */
export function deliveredEdit(edit: EditContent & EditMarks & { id?: string }): DeliveredEdit {
  const delivered = { ...(kindOf(edit).deliver?.(edit) ?? edit) } as Partial<Edit> & { original?: unknown }
  for (const field of ['id', 'title', 'isOff', 'original'] as const) delete delivered[field]
  if (!delivered.page) delete delivered.page
  if (!delivered.widths) delete delivered.widths
  if (isOfElement(edit) && !edit.clues) Reflect.deleteProperty(delivered, 'clues')
  return delivered as DeliveredEdit
}
