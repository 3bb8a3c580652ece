import { WATCH_CHECKS } from '../../core/watch/finding'
import { exactly, id, listOf, moment, oneOf, text } from '../api/replyPieces'
import type { InferType } from '../yup'

const alarm = exactly({
  id: id(),
  /** Without experiment and rollout it is of the site itself, which needs no name. */
  experimentId: id().nullable(),
  rolloutId: id().nullable(),
  name: text().nullable(),
  check: oneOf(...WATCH_CHECKS),
  text: text(),
  openedAt: moment(),
  lastSeenAt: moment(),
  closedAt: moment().nullable(),
  /** By whom it was taken on, and what they said. */
  acknowledged: exactly({ at: moment(), by: text().nullable(), word: text() }).nullable(),
})
/** Something that is or was wrong. */
export type AlarmView = InferType<typeof alarm>

export const alarmsReply = listOf(alarm)
