import {
  createError,
  defineEventHandler,
  getHeader,
  getRequestURL,
  getRouterParam,
  isError,
  readRawBody,
  type H3Event,
} from 'h3'
import { ValidationError, type InferType, type Schema } from 'yup'
import { ROLES, type Role } from '~~/shared/account'
import { OPERATIONS, type Access, type Operation, type OperationId } from '~~/shared/api/operations'
import { database } from '../database/database'
import type { Database } from '../database/connect'
import { findPerson, ownedOrganisation, roleOnSite, type Person } from '../services/accounts/accounts'
import { HttpProblem } from '../services/HttpProblem'
import { accountSession } from './session'

type BodyOf<Id extends OperationId> = (typeof OPERATIONS)[Id] extends { body: infer Body extends Schema }
  ? InferType<Body>
  : undefined

/** What a handler is given: everything has been checked by then. */
export interface Call<Id extends OperationId> {
  event: H3Event
  database: Database
  body: BodyOf<Id>
  /** The id in the path, an integer of at least 1. */
  siteId: number
  experimentId: number
  organisationId: number
  /** Whoever is signed in; for operations that anyone may call, perhaps nobody. */
  person: Person | null
  /** Id of the person; only for operations that need one. */
  personId: number
}

/**
 * A route: checks who calls and what they send as the operation says, calls the handler, and turns
 * refusals into answers that a person can read.
 */
export function defineOperation<Id extends OperationId, Reply>(
  id: Id,
  handler: (call: Call<Id>) => Promise<Reply> | Reply,
) {
  const operation: Operation = OPERATIONS[id]
  return defineEventHandler(async (event) => {
    try {
      if (operation.method !== 'get') refuseForeignOrigin(event)
      const caller = await identify(event, operation.access)
      const body = (operation.body ? await readChecked(event, operation.body) : undefined) as BodyOf<Id>
      const experimentId = operation.path.includes('{experiment}') ? pathId(event, 'experiment') : 0
      return await handler({ event, database: database(), body, experimentId, ...caller })
    } catch (error) {
      throw asReply(error)
    }
  })
}

async function identify(event: H3Event, access: Access) {
  const { personId = 0 } = (await accountSession(event)).data
  const person = personId ? await findPerson(database(), personId) : null
  const caller = { person, personId: person?.id ?? 0, siteId: 0, organisationId: 0 }
  if (access === 'anyone') return caller
  if (!person) throw new HttpProblem(401, 'Sign in first.')
  if (access === 'person') return caller
  if (access === 'organisation-owner') {
    const organisationId = await ownedOrganisation(database(), person.id)
    if (organisationId === null) throw new HttpProblem(403, 'Only the owner of an organisation may do this.')
    return { ...caller, organisationId }
  }
  const siteId = pathId(event, 'site')
  const role = await roleOnSite(database(), person.id, siteId)
  if (!role) throw new HttpProblem(404, 'This site does not exist, or you are not a member of it.')
  if (!reaches(role, access))
    throw new HttpProblem(403, `Your role on this site is ${role}; this takes the role ${access}. Ask an owner.`)
  return { ...caller, siteId }
}

function reaches(role: Role, needed: Role): boolean {
  return ROLES.indexOf(role) >= ROLES.indexOf(needed)
}

function pathId(event: H3Event, name: string): number {
  const id = Number(getRouterParam(event, name))
  if (!Number.isInteger(id) || id < 1 || id > 2_147_483_647)
    throw new HttpProblem(404, `There is no ${name} with this number.`)
  return id
}

/**
 * A page of another origin, even of another port of this host, must not act in the name of whoever is signed in.
 * Programs other than browsers send no origin.
 */
function refuseForeignOrigin(event: H3Event): void {
  const origin = getHeader(event, 'origin')
  if (origin && origin !== getRequestURL(event, { xForwardedHost: true, xForwardedProto: true }).origin) {
    throw new HttpProblem(403, 'This call comes from another site.')
  }
}

async function readChecked(event: H3Event, schema: Schema): Promise<unknown> {
  const raw = (await readRawBody(event)) || '{}'
  let input: unknown
  try {
    input = JSON.parse(raw)
  } catch {
    throw new HttpProblem(400, 'The body is not JSON.')
  }
  return schema.validate(input, { abortEarly: false, stripUnknown: true })
}

function asReply(error: unknown): unknown {
  if (isError(error)) return error
  if (error instanceof ValidationError) {
    const fields = Object.fromEntries(
      (error.inner.length > 0 ? error.inner : [error]).map((each) => [each.path ?? '', each.message]),
    )
    return createError({ statusCode: 422, message: Object.values(fields)[0], data: { fields } })
  }
  if (error instanceof HttpProblem)
    return createError({ statusCode: error.status, message: error.message, data: { fields: error.fields } })
  if (isDatabaseAway(error))
    return createError({
      statusCode: 503,
      message: 'The database cannot be reached at the moment. Try again in a few seconds; nothing is lost.',
    })
  console.error(error)
  return createError({
    statusCode: 500,
    message: 'Something went wrong on the server. Try again; if it stays, look at the server’s log.',
  })
}

const CONNECTION_ERRORS = new Set(['ECONNREFUSED', 'ECONNRESET', '57P01', '57P02', '57P03', '08006', '08003'])

/** Whether an error comes from a database that is away rather than from a mistake. */
export function isDatabaseAway(error: unknown): boolean {
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    const code = 'code' in cause ? String(cause.code) : ''
    if (
      CONNECTION_ERRORS.has(code) ||
      /connection terminated|timeout exceeded when trying to connect/i.test(cause.message)
    )
      return true
  }
  return false
}
