import { OCCURRENCE_KINDS, WAYS } from '../../core/notifications/occurrence'
import { exactly, id, listOf, moment, oneOf, page, text, whole, yesOrNo } from '../api/replyPieces'
import type { InferType } from '../yup'

const kind = () => oneOf(...OCCURRENCE_KINDS)
const way = () => oneOf(...WAYS)

const notification = exactly({
  id: id(),
  kind: kind(),
  /** Of the experiment, hypothesis or site. */
  title: text(),
  text: text(),
  /** Below the site. */
  path: text(),
  at: moment(),
  /** Who did it. */
  by: text().nullable(),
  isSeen: yesOrNo(),
})
/** Something that a person is told. */
export type NotificationView = InferType<typeof notification>

export const notificationsReply = page(notification)
export const unseenReply = exactly({ count: whole() })

export const toldChoicesReply = exactly({
  /** null where nothing is chosen. */
  ways: listOf(exactly({ kind: kind(), way: way().nullable() })),
  /** In minutes of the day. */
  times: exactly({ timeZone: text().nullable(), quietFrom: whole(), quietUntil: whole(), morningAt: whole() }),
})
export type ToldChoicesView = InferType<typeof toldChoicesReply>

export const experimentWaysReply = listOf(exactly({ kind: kind(), way: way().nullable(), otherwise: way() }))
/** How a person is told of one experiment: by choice, and otherwise. */
export type ExperimentWaysView = InferType<typeof experimentWaysReply>

export const hearLessReply = listOf(exactly({ kind: kind(), experimentId: id().nullable(), title: text(), way: way() }))
/** What a letter told of, and how its person is told of it from now on. */
export type HearLessView = InferType<typeof hearLessReply>
