import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'
import { alarmSchema, alarmsQuerySchema } from './alarm'
import { alarmsReply } from './replies'

export const WATCH = {
  readAlarms: {
    method: 'get',
    path: `${SITE}/alarms`,
    access: 'viewer',
    summary: 'What is wrong on a site or with an experiment, and what was in the last 90 days',
    query: alarmsQuerySchema,
    reply: answers(alarmsReply),
  },
  acknowledgeAlarm: {
    method: 'post',
    path: `${SITE}/alarms/{alarm}/acknowledgement`,
    access: 'editor',
    summary: 'Take an alarm on, with a word',
    body: alarmSchema,
    reply: confirms('acknowledged'),
  },
} as const satisfies Record<string, Operation>
