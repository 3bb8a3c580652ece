import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'
import {
  experimentWaysSchema,
  hearLessSchema,
  notificationsQuerySchema,
  seenSchema,
  toldChoicesSchema,
} from './notification'
import { experimentWaysReply, hearLessReply, notificationsReply, toldChoicesReply, unseenReply } from './replies'

export const NOTIFICATIONS = {
  listNotifications: {
    method: 'get',
    path: `${SITE}/notifications`,
    access: 'viewer',
    summary: 'What one is told of a site oneself, a page at a time',
    query: notificationsQuerySchema,
    reply: answers(notificationsReply),
  },
  countUnseen: {
    method: 'get',
    path: `${SITE}/notifications/unseen`,
    access: 'viewer',
    summary: 'How many notifications one has not seen',
    reply: answers(unseenReply),
  },
  markSeen: {
    method: 'post',
    path: `${SITE}/notifications/seen`,
    access: 'viewer',
    summary: 'Mark notifications as seen, up to one of them',
    body: seenSchema,
    reply: confirms('seen'),
  },
  readToldChoices: {
    method: 'get',
    path: '/api/account/notifications',
    access: 'person',
    summary: 'What one is told oneself, how, and when letters may come',
    reply: answers(toldChoicesReply),
  },
  changeToldChoices: {
    method: 'patch',
    path: '/api/account/notifications',
    access: 'person',
    summary: 'Choose what one is told oneself, how, and when letters may come',
    body: toldChoicesSchema,
    reply: answers(toldChoicesReply),
  },
  readExperimentWays: {
    method: 'get',
    path: `${SITE}/experiments/{experiment}/notifications`,
    access: 'viewer',
    summary: 'What one is told of an experiment oneself',
    reply: answers(experimentWaysReply),
  },
  changeExperimentWays: {
    method: 'patch',
    path: `${SITE}/experiments/{experiment}/notifications`,
    access: 'viewer',
    summary: 'Choose what one is told of an experiment oneself',
    body: experimentWaysSchema,
    reply: answers(experimentWaysReply),
  },
  hearLess: {
    method: 'post',
    path: '/api/letters/less',
    access: 'anyone',
    summary: 'Hear less of what a letter told, by the secret of its link',
    body: hearLessSchema,
    reply: answers(hearLessReply),
  },
} as const satisfies Record<string, Operation>
