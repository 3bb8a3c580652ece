import { MARK_KINDS } from '../../core/history/mark'
import { exactly, id, listOf, oneOf, text } from '../api/replyPieces'
import type { InferType } from '../yup'

const mark = exactly({
  /** Unlike that of every other mark, and always the same. */
  key: text(),
  kind: oneOf(...MARK_KINDS),
  /** By the clock of the site. */
  day: text(),
  /** Of what it happened to; empty of a note. */
  title: text(),
  words: text(),
  /** Below the site; null of a note, which stands nowhere else. */
  path: text().nullable(),
  /** Of a note, for whoever changes it. */
  noteId: id().nullable(),
  person: text().nullable(),
})
/** Something that happened on a day. */
export type MarkView = InferType<typeof mark>

export const marksReply = listOf(mark)
export const dayNoteReply = exactly({ id: id(), day: text(), words: text(), person: text().nullable() })
export type DayNoteView = InferType<typeof dayNoteReply>
