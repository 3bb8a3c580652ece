import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'
import { dayNoteSchema, marksQuery } from './history'
import { dayNoteReply, marksReply } from './replies'

const note = answers(dayNoteReply)

export const HISTORY = {
  readMarks: {
    method: 'get',
    path: `${SITE}/marks`,
    access: 'viewer',
    summary: 'What happened within some days: starts, ends, shares, rollouts, metrics, alarms, findings and notes',
    query: marksQuery,
    reply: answers(marksReply),
  },
  addDayNote: {
    method: 'post',
    path: `${SITE}/day-notes`,
    access: 'editor',
    summary: 'Write down what happened on a day',
    body: dayNoteSchema,
    reply: note,
  },
  changeDayNote: {
    method: 'patch',
    path: `${SITE}/day-notes/{dayNote}`,
    access: 'editor',
    summary: 'Change a note on a day',
    body: dayNoteSchema,
    reply: note,
  },
  deleteDayNote: {
    method: 'delete',
    path: `${SITE}/day-notes/{dayNote}`,
    access: 'editor',
    summary: 'Delete a note on a day',
    reply: confirms('deleted'),
  },
} as const satisfies Record<string, Operation>
