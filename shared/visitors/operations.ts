import type { InferType } from '../yup'
import { erasedPersonSchema } from './person'
import { anything, exactly, listOf, moment, text, whole } from '../api/replyPieces'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const VISITOR = `${SITE}/visitors/{visitor}`

const personDevice = exactly({
  visitor: text(),
  /** Pages that were opened there while the person was named. */
  views: whole(),
  firstSeenAt: moment(),
  lastSeenAt: moment(),
  /** Other persons who were seen there, too. */
  otherPersons: whole(),
})
/** A device that a person was seen on. */
export type PersonDevice = InferType<typeof personDevice>

const personReply = exactly({
  person: text(),
  devices: listOf(personDevice),
  /** Rows by table. */
  kept: anything<Record<string, object[]>>(),
})
export type PersonExport = InferType<typeof personReply>

const PERSON = `${SITE}/persons/{person}`
const PERSON_KEY = `${SITE}/person-key`
const personKeyReply = exactly({ key: text().nullable(), since: moment().nullable() })
/** By which a site's own server proves who somebody is; null where no proof is asked for. */
export type PersonKeyView = InferType<typeof personKeyReply>

const erased = () => answers(exactly({ rows: whole() }))

export const VISITORS = {
  exportVisitor: {
    method: 'get',
    path: VISITOR,
    access: 'owner',
    summary: 'Everything that is kept of a visitor',
    reply: answers(anything<Record<string, unknown>>()),
  },
  eraseVisitor: {
    method: 'delete',
    path: VISITOR,
    access: 'owner',
    summary: 'Erase everything that is kept of a visitor, also from the sums',
    reply: erased(),
  },
  exportPerson: {
    method: 'get',
    path: PERSON,
    access: 'owner',
    summary: 'Everything that is kept of a person, with the devices that they were seen on',
    reply: answers(personReply),
  },
  erasePerson: {
    method: 'delete',
    path: PERSON,
    access: 'owner',
    summary: 'Erase a person, with the devices that are named, also from the sums',
    body: erasedPersonSchema,
    reply: erased(),
  },
  readPersonKey: {
    method: 'get',
    path: PERSON_KEY,
    access: 'owner',
    summary: 'The key by which the site’s own server proves who somebody is',
    reply: answers(personKeyReply),
  },
  drawPersonKey: {
    method: 'post',
    path: PERSON_KEY,
    access: 'owner',
    summary: 'Ask for proof of persons, by a new key',
    reply: answers(personKeyReply),
  },
  dropPersonKey: {
    method: 'delete',
    path: PERSON_KEY,
    access: 'owner',
    summary: 'Stop asking for proof of persons',
    reply: answers(personKeyReply),
  },
} as const satisfies Record<string, Operation>
