import { STEP_KINDS } from '../../core/evidence/visits'
import type { RecordedStrip } from './recording'
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
      kind: oneOf<RecordedStrip['marks'][number]['kind']>(
        ...(STEP_KINDS as readonly RecordedStrip['marks'][number]['kind'][]),
      ),
      words: text().nullable(),
    }),
  ),
}

export const recordingsReply = exactly({
  recordings: listOf(exactly({ ...strip, bytes: whole(), notes: whole() })),
  searched: whole(),
  hasMore: yesOrNo(),
})

const note = { id: id(), moment: whole(), words: text(), person: text().nullable(), createdAt: moment() }
export const recordingNoteReply = exactly(note)
export const recordingReply = exactly({
  strip: exactly(strip),
  began: amount(),
  length: amount(),
  notes: listOf(exactly(note)),
})
export const recordedEventsReply = exactly({ events: listOf(anything<object>()), next: whole().nullable() })
