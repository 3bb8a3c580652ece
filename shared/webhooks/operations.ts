import { pageSchema } from '../api/paging'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'
import { deliveriesReply, newWebhookReply, webhooksReply } from './replies'
import { webhookChangeSchema, webhookSchema } from './webhook'

const WEBHOOK = `${SITE}/webhooks/{webhook}` as const

export const WEBHOOKS = {
  listWebhooks: {
    method: 'get',
    path: `${SITE}/webhooks`,
    access: 'owner',
    summary: 'Programs that are told of what happens on a site',
    reply: answers(webhooksReply),
  },
  createWebhook: {
    method: 'post',
    path: `${SITE}/webhooks`,
    access: 'owner',
    summary: 'Tell a program of what happens; the secret that signs is in this answer only',
    body: webhookSchema,
    reply: answers(newWebhookReply),
  },
  changeWebhook: {
    method: 'patch',
    path: WEBHOOK,
    access: 'owner',
    summary: 'Change where and what is sent, pause it, or resume it',
    body: webhookChangeSchema,
    reply: answers(webhooksReply),
  },
  deleteWebhook: {
    method: 'delete',
    path: WEBHOOK,
    access: 'owner',
    summary: 'Delete a webhook with its log',
    reply: confirms('deleted'),
  },
  drawWebhookSecret: {
    method: 'post',
    path: `${WEBHOOK}/secret`,
    access: 'owner',
    summary: 'Sign with a new secret from now on',
    reply: answers(newWebhookReply),
  },
  testWebhook: {
    method: 'post',
    path: `${WEBHOOK}/test`,
    access: 'owner',
    summary: 'Send a test',
    reply: confirms('sent'),
  },
  listDeliveries: {
    method: 'get',
    path: `${WEBHOOK}/deliveries`,
    access: 'owner',
    summary: 'What was sent and how it went, a page at a time',
    query: pageSchema,
    reply: answers(deliveriesReply),
  },
  replayDelivery: {
    method: 'post',
    path: `${WEBHOOK}/deliveries/{delivery}/replay`,
    access: 'owner',
    summary: 'Send the same once more',
    reply: confirms('sent'),
  },
} as const satisfies Record<string, Operation>
