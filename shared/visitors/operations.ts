import { erasedPersonSchema } from './person'
import { anything, exactly, listOf, moment, text, whole } from '../api/replyPieces'
import { answers, type Operation } from '../api/operation'
import { SITE } from '../sites/operations'

const VISITOR = `${SITE}/visitors/{visitor}`

const personReply = exactly({
  person: text(),
  devices: listOf(
    exactly({
      visitor: text(),
      views: whole(),
      firstSeenAt: moment(),
      lastSeenAt: moment(),
      otherPersons: whole(),
    }),
  ),
  kept: anything<Record<string, object[]>>(),
})
const PERSON = `${SITE}/persons/{person}`
const PERSON_KEY = `${SITE}/person-key`
const personKey = () => answers(exactly({ key: text().nullable(), since: moment().nullable() }))
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
