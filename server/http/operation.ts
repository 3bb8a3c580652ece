import { Readable } from 'node:stream'
import { createError, defineEventHandler, getHeader, getQuery, getRouterParam, isError, type H3Event } from 'h3'
import { ValidationError, type Schema } from 'yup'
import { ROLES, type Role } from '~~/shared/accounts/account'
import {
  parametersOf,
  TEXT_PARAMETERS,
  type Access,
  type BodyOf,
  type Operation,
  type PathParameters,
  type QueryOf,
  type ReplyOf,
} from '~~/shared/api/operation'
import { OPERATIONS, type OperationId, type Operations } from '~~/shared/api/operations'
import { database } from '../database/database'
import type { Database } from '../database/connect'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { ownedOrganisation, roleOnSite, type Person } from '../services/accounts/accounts'
import { findToken } from '../services/accounts/tokens'
import { HttpProblem } from '../services/HttpProblem'
import { analyzeExpressions } from './analyzeExpressions'
import { LARGEST_BODY } from './largestBody'
import { readLimited } from './readLimited'
import { holdsStorableTexts } from './storable'
import { requestOrigin } from './requestOrigin'
import { currentSession } from './session'

/** What a handler is given: everything has been checked by then. */
export interface Call<Id extends OperationId> {
  event: H3Event
  database: Database
  /** Parameters of the path. */
  path: PathParameters<Operations[Id]['path']>
  query: QueryOf<Operations[Id]>
  body: BodyOf<Operations[Id]>
  /** Id of the site in the path; 0 for paths without one. */
  siteId: number
  organisationId: number
  /** Whoever is signed in; null for programs, and where anyone may call. */
  person: Person | null
  personId: number | null
  /** Id of the session of whoever is signed in. */
  sessionId: number
}

/**
 * A route: checks who calls and what they send as the operation says, calls the handler, and turns
 * refusals into answers that a person can read.
 */
export function defineOperation<Id extends OperationId>(
  id: Id,
  handler: (call: Call<Id>) => Promise<ReplyOf<Operations[Id]>> | ReplyOf<Operations[Id]>,
) {
  const operation: Operation = OPERATIONS[id]
  return defineEventHandler(async (event) => {
    try {
      if (operation.method !== 'get') refuseForeignOrigin(event)
      const path = pathParameters(event, operation.path)
      const caller = await identify(event, operation.access, Number(path.site ?? 0))
      const query = operation.query ? await queryOf(event, operation.query) : undefined
      const body = operation.body ? await readChecked(event, operation.body) : undefined
      const reply = await handler({ event, database: database(), path, query, body, ...caller } as unknown as Call<Id>)
      if (useRuntimeConfig().checksReplies && !(reply instanceof Readable)) checkReply(id, operation, reply)
      return reply
    } catch (error) {
      throw asReply(error)
    }
  })
}

/** Throws an answer that is not as the operation describes it, as it would be read from JSON. */
function checkReply(id: string, { reply: { schema } }: Operation, reply: unknown): void {
  if (!schema) return
  try {
    schema.validateSync(JSON.parse(JSON.stringify(reply)), { strict: true, abortEarly: false })
  } catch (error) {
    const wrong = (error as ValidationError).inner.map(({ path, message }) => `${path}: ${message}`)
    throw new Error(`The answer of ${id} is not as described: ${wrong.join('; ')}`)
  }
}

type Caller = Pick<Call<OperationId>, 'siteId' | 'organisationId' | 'person' | 'personId' | 'sessionId'>

async function identify(event: H3Event, access: Access, siteId: number): Promise<Caller> {
  const bearer = /^Bearer (\S+)$/.exec(getHeader(event, 'authorization') ?? '')?.[1]
  if (bearer) return identifyProgram(bearer, access, siteId)
  const session = await currentSession(event)
  const person = session?.person ?? null
  const caller: Caller = {
    person,
    personId: person?.id ?? null,
    sessionId: session?.id ?? 0,
    siteId: 0,
    organisationId: 0,
  }
  if (access === 'anyone') return caller
  if (!person) throw new HttpProblem(401, 'Sign in first.')
  if (access === 'person') return caller
  if (access === 'organisation-owner') {
    const organisationId = await ownedOrganisation(database(), person.id)
    if (organisationId === null) throw new HttpProblem(403, 'Only the owner of an organization may do this.')
    return { ...caller, organisationId }
  }
  const role = await roleOnSite(database(), person.id, siteId)
  if (!role) throw new HttpProblem(404, 'This site does not exist, or you are not a member of it.')
  checkRole(role, access, `Your role on this site is ${role}; this takes the role ${access}. Ask an owner.`)
  return { ...caller, siteId }
}

async function identifyProgram(secret: string, access: Access, siteId: number): Promise<Caller> {
  const found = await findToken(database(), secret)
  if (!found) throw new HttpProblem(401, 'This token is not known, or was taken back.')
  const caller: Caller = { person: null, personId: null, sessionId: 0, siteId: 0, organisationId: 0 }
  if (access === 'anyone') return caller
  if (access === 'person' || access === 'organisation-owner')
    throw new HttpProblem(403, 'This is for people, not for programs.')
  if (found.siteId !== siteId) throw new HttpProblem(404, 'This token is not one of this site.')
  checkRole(found.role, access, `The scope of this token is ${found.scope}, which does not reach this.`)
  return { ...caller, siteId }
}

function checkRole(role: Role, needed: Role, refusal: string): void {
  if (ROLES.indexOf(role) < ROLES.indexOf(needed)) throw new HttpProblem(403, refusal)
}

function pathParameters(event: H3Event, path: string): Record<string, string | number> {
  return Object.fromEntries(
    parametersOf(path).map((name) => {
      const text = getRouterParam(event, name) ?? ''
      if ((TEXT_PARAMETERS as readonly string[]).includes(name)) {
        if (!/^[\w-]{1,64}$/.test(text)) throw new HttpProblem(404, `There is no ${name} of this name.`)
        return [name, text]
      }
      const id = /^[1-9]\d{0,9}$/.test(text) ? Number(text) : NaN
      if (!(id <= 2_147_483_647)) throw new HttpProblem(404, `There is no ${name} with this number.`)
      return [name, id]
    }),
  )
}

/**
 * A page of another origin, even of another port of this host, must not act in the name of whoever is signed in.
 * Programs other than browsers send no origin.
 */
function refuseForeignOrigin(event: H3Event): void {
  const origin = getHeader(event, 'origin')
  if (origin && origin !== requestOrigin(event)) throw new HttpProblem(403, 'This call comes from another site.')
}

async function queryOf(event: H3Event, schema: Schema): Promise<unknown> {
  const query = getQuery(event)
  await analyzeExpressions(query)
  return schema.validate(query, { abortEarly: false, stripUnknown: true })
}

async function readChecked(event: H3Event, schema: Schema): Promise<unknown> {
  const raw = (await readLimited(event, LARGEST_BODY)) || '{}'
  let input: unknown
  try {
    input = JSON.parse(raw)
  } catch {
    throw new HttpProblem(400, 'The body is not JSON.')
  }
  if (!holdsStorableTexts(input))
    throw new HttpProblem(422, 'The text holds characters that cannot be stored. Type it again without them.')
  await analyzeExpressions(input)
  try {
    return await schema.validate(input, { abortEarly: false, stripUnknown: true })
  } catch (error) {
    // A list where a text belongs breaks the conversion before it can be told what is wrong with it.
    if (error instanceof TypeError)
      throw new HttpProblem(422, 'A value is of the wrong kind. Check the names and kinds of the fields.')
    throw error
  }
}

function asReply(error: unknown): unknown {
  if (isError(error)) return error
  if (error instanceof ValidationError) {
    const all = error.inner.length > 0 ? error.inner : [error]
    const fields = Object.fromEntries(all.map((each) => [each.path ?? '', each.message]))
    return createError({ statusCode: 422, message: Object.values(fields)[0], data: { fields } })
  }
  if (error instanceof HttpProblem) {
    return createError({ statusCode: error.status, message: error.message, data: { fields: error.fields } })
  }
  if (isDatabaseAway(error)) {
    return createError({
      statusCode: 503,
      message: 'The database cannot be reached at the moment. Try again in a few seconds; nothing is lost.',
    })
  }
  console.error(error)
  return createError({
    statusCode: 500,
    message: 'Something went wrong on the server. Try again; if it stays, look at the server’s log.',
  })
}
