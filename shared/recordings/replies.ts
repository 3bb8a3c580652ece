import type { InferType } from '../yup'
import type { Strip } from '../../core/evidence/strips'
import { STEP_KINDS } from '../../core/evidence/visits'
import { amount, anything, exactly, id, listOf, moment, oneOf, text, whole, yesOrNo } from '../api/replyPieces'

const strip = {
  visitor: text(),
  session: text(),
  began: amount(),
  length: amount(),
  device: text(),
  browser: text(),
  country: text().nullable(),
  source: text().nullable(),
  visits: text().nullable(),
  pages: listOf(exactly({ at: amount(), page: text() })),
  marks: listOf(
    exactly({
      at: amount(),
      kind: oneOf<Strip['marks'][number]['kind']>(...(STEP_KINDS as readonly Strip['marks'][number]['kind'][])),
      words: text().nullable(),
    }),
  ),
}

const recordedStrip = exactly({ ...strip, bytes: whole(), notes: whole() })
export type RecordedStrip = InferType<typeof recordedStrip>

export const recordingsReply = exactly({
  recordings: listOf(recordedStrip),
  /** Recordings of these days, before the search by what happened; more than are looked through are told as such. */
  searched: whole(),
  hasMore: yesOrNo(),
})
export type RecordingsView = InferType<typeof recordingsReply>

export const recordingNoteReply = exactly({
  id: id(),
  /** ms from the beginning of the recording */
  moment: whole(),
  words: text(),
  person: text().nullable(),
  createdAt: moment(),
})
export type RecordingNote = InferType<typeof recordingNoteReply>

export const recordingReply = exactly({
  strip: exactly(strip),
  /** ms since 1970 by the server's clock: the moment 0 of the recording. */
  began: amount(),
  length: amount(),
  notes: listOf(recordingNoteReply),
})
export type RecordingView = InferType<typeof recordingReply>

export const styleSheetReply = exactly({
  content: text(),
  /** Since when it said so. */
  keptAt: moment(),
})
export type KeptStyleSheet = InferType<typeof styleSheetReply>

export const recordedEventsReply = exactly({
  events: listOf(anything<object>()),
  /** What to go on with; null at the end. */
  next: whole().nullable(),
})
/** A stretch of a recording: events of the recorder, with times by the server's clock. */
export type RecordedEvents = InferType<typeof recordedEventsReply>
