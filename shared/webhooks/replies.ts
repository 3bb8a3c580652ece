import { WEBHOOK_KINDS } from '../../core/notifications/occurrence'
import { exactly, id, listOf, moment, oneOf, page, text, whole } from '../api/replyPieces'
import type { InferType } from '../yup'

const fields = {
  id: id(),
  address: text(),
  kinds: listOf(oneOf(...WEBHOOK_KINDS)),
  /** `silent`: nobody answered for so long that nothing is sent any more. */
  state: oneOf('on', 'paused', 'silent'),
  by: text().nullable(),
  createdAt: moment(),
  lastDeliveredAt: moment().nullable(),
}
const webhook = exactly(fields)
export type WebhookView = InferType<typeof webhook>
export const webhooksReply = listOf(webhook)

/** With the secret, which is shown this once. */
export const newWebhookReply = exactly({ ...fields, secret: text() })
export type NewWebhookView = InferType<typeof newWebhookReply>

const delivery = exactly({
  id: id(),
  kind: oneOf(...WEBHOOK_KINDS, 'test'),
  body: text(),
  createdAt: moment(),
  attempts: whole(),
  state: oneOf('delivered', 'waits', 'given up'),
  lastTriedAt: moment().nullable(),
  nextTryAt: moment().nullable(),
  /** Of the last answer. */
  status: whole().nullable(),
  /** What the last answer said, or why there was none. */
  answer: text().nullable(),
})
export type DeliveryView = InferType<typeof delivery>
export const deliveriesReply = page(delivery)
