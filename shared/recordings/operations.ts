import { eventsQuery, noteSchema, recordingsQuery, styleSheetQuery } from './recording'
import { recordedEventsReply, recordingNoteReply, recordingReply, recordingsReply, styleSheetReply } from './replies'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const RECORDING = `${SITE}/recordings/{visitor}/{visit}`

export const RECORDINGS = {
  listRecordings: {
    method: 'get',
    path: `${SITE}/recordings`,
    access: 'viewer',
    summary: 'Recorded sessions in which something happened, the latest first',
    query: recordingsQuery,
    reply: answers(recordingsReply),
  },
  readRecording: {
    method: 'get',
    path: RECORDING,
    access: 'viewer',
    summary: 'What happened in a recorded session, with its notes',
    reply: answers(recordingReply),
  },
  readRecordedEvents: {
    method: 'get',
    path: `${RECORDING}/events`,
    access: 'viewer',
    summary: 'A recording itself, a stretch at a time',
    query: eventsQuery,
    reply: answers(recordedEventsReply),
  },
  readStyleSheet: {
    method: 'get',
    path: `${SITE}/recordings/style-sheet`,
    access: 'viewer',
    summary: 'A copy of another host’s style sheet, as it was when visitors were recorded',
    query: styleSheetQuery,
    reply: answers(styleSheetReply),
  },
  addRecordingNote: {
    method: 'post',
    path: `${RECORDING}/notes`,
    access: 'editor',
    summary: 'Note something at a moment of a recording',
    body: noteSchema,
    reply: answers(recordingNoteReply),
  },
  removeRecordingNote: {
    method: 'delete',
    path: `${RECORDING}/notes/{note}`,
    access: 'editor',
    summary: 'Remove a note',
    reply: confirms('removed'),
  },
  deleteRecording: {
    method: 'delete',
    path: RECORDING,
    access: 'editor',
    summary: 'Delete a recording with its notes',
    reply: confirms('deleted'),
  },
} as const satisfies Record<string, Operation>
