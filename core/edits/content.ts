import type { PageRule } from '../targeting/pageRule'
import type { AttributeEdit } from './attribute'
import type { ClassesEdit } from './classes'
import type { CssEdit, ScriptEdit } from './code'
import type { ElementClues } from './element'
import type { HideEdit, RemoveEdit } from './hide'
import type { HtmlEdit } from './html'
import type { ImageEdit } from './image'
import type { InsertEdit } from './insert'
import type { MoveEdit } from './move'
import type { RearrangeEdit } from './rearrange'
import type { RedirectEdit } from './redirect'
import type { RichTextEdit } from './richText'
import type { StyleEdit } from './style'
import type { TextEdit } from './text'
import type { Widths } from './widths'

/** One change of an element of the page, by its kind. */
export type ElementEdit =
  | TextEdit
  | RichTextEdit
  | HtmlEdit
  | InsertEdit
  | AttributeEdit
  | ImageEdit
  | StyleEdit
  | ClassesEdit
  | MoveEdit
  | RearrangeEdit
  | HideEdit
  | RemoveEdit

/** One change of a page, by its kind: of an element, or of the page as a whole. */
export type EditContent = ElementEdit | CssEdit | ScriptEdit | RedirectEdit

/** An edit as it is kept: with an id that stays the same whatever is changed about it. */
export type Edit = EditContent & EditMarks & { id: string }

export interface EditMarks {
  /** What somebody calls it; otherwise it is called by what it does. */
  title?: string | null
  /** Kept, and not applied. */
  isOff?: boolean | null
  /** Where alone it applies, among the pages of the experiment. */
  page?: PageRule | null
  /** In which windows alone it applies. */
  widths?: Widths | null
}

/** What a browser needs of an edit: what to do, and not what was there before. */
export type DeliveredEdit = WithoutHistory<EditContent> & Pick<EditMarks, 'page' | 'widths'>
type WithoutHistory<Content> = Content extends EditContent ? Omit<Content, 'original'> : never

export type EditKindName = EditContent['kind']

/** Whether an edit is of one element, and not of the page as a whole. */
export function isOfElement<Any extends { kind: EditKindName }>(
  edit: Any,
): edit is Any & { selector: string; clues?: ElementClues | null } {
  return edit.kind !== 'css' && edit.kind !== 'script' && edit.kind !== 'redirect'
}
