import { STEP_KINDS } from '../../core/evidence/visits'
import type { RecordedEvents, RecordedStrip, RecordingNote, RecordingsView, RecordingView } from './recording'
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
  pages: listOf(exactly<RecordedStrip['pages'][number]>({ at: amount(), page: text() })),
  marks: listOf(
    exactly<RecordedStrip['marks'][number]>({ at: amount(), kind: oneOf(...STEP_KINDS), words: text().nullable() }),
  ),
}

export const recordingsReply = exactly<RecordingsView>({
  recordings: listOf(exactly<RecordedStrip>({ ...strip, bytes: whole(), notes: whole() })),
  searched: whole(),
  hasMore: yesOrNo(),
})

const note = { id: id(), moment: whole(), words: text(), person: text().nullable(), createdAt: moment() }
export const recordingNoteReply = exactly<RecordingNote>(note)
export const recordingReply = exactly<RecordingView>({
  strip: exactly<RecordingView['strip']>(strip),
  began: amount(),
  length: amount(),
  notes: listOf(exactly<RecordingNote>(note)),
})
export const recordedEventsReply = exactly<RecordedEvents>({ events: listOf(anything()), next: whole().nullable() })
