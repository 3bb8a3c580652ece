import type { InferType } from '../yup'
import { deviceSchema, deviceShowsSchema } from './pinnedDevice'
import { exactly, id, listOf, moment, text } from '../api/replyPieces'
import { answers, confirms, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const DEVICES_PATH = `${SITE}/devices`
const DEVICE = `${DEVICES_PATH}/{device}`
const device = exactly({
  id: id(),
  name: text(),
  /** Opened once on the device, it pins it. */
  link: text(),
  experimentId: id().nullable(),
  experiment: text().nullable(),
  variant: text().nullable(),
  createdAt: moment(),
  expiresAt: moment(),
  /** null: it was not opened yet. */
  seenAt: moment().nullable(),
})
export type PinnedDevice = InferType<typeof device>

export const DEVICES = {
  listDevices: {
    method: 'get',
    path: DEVICES_PATH,
    access: 'editor',
    summary: 'Pinned devices, and what each of them shows',
    reply: answers(listOf(device)),
  },
  pinDevice: {
    method: 'post',
    path: DEVICES_PATH,
    access: 'editor',
    summary: 'Create a link that pins the device on which it is opened',
    body: deviceSchema,
    reply: answers(device),
  },
  showOnDevice: {
    method: 'patch',
    path: DEVICE,
    access: 'editor',
    summary: 'Choose what a pinned device shows, from its next page on',
    body: deviceShowsSchema,
    reply: answers(device),
  },
  unpinDevice: {
    method: 'delete',
    path: DEVICE,
    access: 'editor',
    summary: 'Let a device be like that of any visitor, from its next page on',
    reply: confirms('unpinned'),
  },
} as const satisfies Record<string, Operation>
