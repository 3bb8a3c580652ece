import { erasedPersonSchema, type PersonDevice, type PersonExport, type PersonKeyView } from './person'
import { anything, exactly, listOf, moment, text, whole } from '../api/replyPieces'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const VISITOR = `${SITE}/visitors/{visitor}`

const personReply = exactly<PersonExport>({
  person: text(),
  devices: listOf(
    exactly<PersonDevice>({
      visitor: text(),
      views: whole(),
      firstSeenAt: moment(),
      lastSeenAt: moment(),
      otherPersons: whole(),
    }),
  ),
  kept: anything(),
})
const PERSON = `${SITE}/persons/{person}`
const PERSON_KEY = `${SITE}/person-key`
const personKey = () =>
  answers<PersonKeyView>(exactly<PersonKeyView>({ key: text().nullable(), since: moment().nullable() }))
const erased = () => answers<{ rows: number }>(exactly<{ rows: number }>({ rows: whole() }))

export const VISITORS = {
  exportVisitor: {
    method: 'get',
    path: VISITOR,
    access: 'owner',
    summary: 'Everything that is kept of a visitor',
    reply: answers<Record<string, unknown>>(anything()),
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
    reply: answers<PersonExport>(personReply),
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
    reply: personKey(),
  },
  drawPersonKey: {
    method: 'post',
    path: PERSON_KEY,
    access: 'owner',
    summary: 'Ask for proof of persons, by a new key',
    reply: personKey(),
  },
  dropPersonKey: {
    method: 'delete',
    path: PERSON_KEY,
    access: 'owner',
    summary: 'Ask for no proof of persons any more',
    reply: personKey(),
  },
} as const satisfies Record<string, Operation>
