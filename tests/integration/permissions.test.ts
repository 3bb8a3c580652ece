import { readdirSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { createExperiment } from '../../server/services/experiments/experiments'
import { ROLES, type Role } from '../../shared/account'
import { OPERATIONS, type Operation } from '../../shared/api/operations'
import { callerOf, createTeam } from './people'

const url = inject('url')
const database = connect(inject('databaseUrl'), 2)
type Caller = Awaited<ReturnType<typeof callerOf>>
const callers = {} as Record<Role | 'nobody' | 'stranger', Caller>
let team: Awaited<ReturnType<typeof createTeam>>
let stranger: Awaited<ReturnType<typeof createTeam>>
let experimentId: number

beforeAll(async () => {
  team = await createTeam(database)
  stranger = await createTeam(database)
  experimentId = (await createExperiment(database, team.site.id, null, 'For permissions')).id
  for (const role of ROLES) callers[role] = await callerOf(url, team.emails[role])
  callers.stranger = await callerOf(url, stranger.emails.owner)
  callers.nobody = await callerOf(url)
})
afterAll(() => database.$client.end())

const guarded = Object.entries(OPERATIONS as Record<string, Operation>).filter(([, operation]) =>
  operation.path.startsWith('/api/sites'),
)
const pathOf = (operation: Operation) =>
  operation.path.replace('{site}', String(team.site.id)).replace('{experiment}', String(experimentId))
const call = (caller: Caller, operation: Operation) =>
  caller(operation.method.toUpperCase(), pathOf(operation), operation.method === 'get' ? undefined : {})

test('every route under api/ is an operation, and every operation is answered', async () => {
  const files = readdirSync('server/api', { recursive: true, encoding: 'utf8' }).filter((file) =>
    /\.(get|post|patch|delete)\.ts$/.test(file),
  )
  const routes = files.map((file) => {
    const [, path, method] = /^(.*?)(?:\/index)?\.(get|post|patch|delete)\.ts$/.exec(`/${file}`)!
    return `${method} /api${path!.replace(/\[(\w+)\]/g, '{$1}')}`
  })
  const operations = Object.values(OPERATIONS as Record<string, Operation>).filter(({ path }) =>
    path.startsWith('/api'),
  )
  expect(routes.sort()).toEqual(operations.map(({ method, path }) => `${method} ${path}`).sort())
})

describe.each(guarded)('%s', (_id, operation) => {
  test('refuses whoever is not signed in', async () => {
    expect((await call(callers.nobody, operation)).status).toBe(401)
  })

  test('does not exist for members of another organisation', async () => {
    if (operation.access === 'organisation-owner') return
    expect((await call(callers.stranger, operation)).status).toBe(404)
  })

  // Deleting and ending would take away what the other cases need, so they are asked with an experiment that cannot.
  test.each(ROLES)('as %s', async (role) => {
    const needed = operation.access === 'organisation-owner' ? 'owner' : (operation.access as Role)
    const mayCall = ROLES.indexOf(role) >= ROLES.indexOf(needed)
    if (mayCall && operation.method === 'delete') return
    const { status } = await call(callers[role], operation)
    if (mayCall) expect([200, 409, 422]).toContain(status)
    else expect(status).toBe(403)
  })
})

test('an experiment of another site is not reached through one’s own', async () => {
  const path = `/api/sites/${stranger.site.id}/experiments/${experimentId}`
  for (const [method, end] of [
    ['GET', ''],
    ['GET', '/results'],
    ['PATCH', ''],
    ['POST', '/start'],
    ['POST', '/restore'],
    ['DELETE', ''],
  ] as const) {
    const reply = await callers.stranger(
      method,
      path + end,
      method === 'PATCH' ? { version: 1, name: 'Taken over' } : undefined,
    )
    expect([method, end, reply.status]).toEqual([method, end, 404])
  }
  const own = await callers.viewer('GET', `/api/sites/${team.site.id}/experiments/${experimentId}`)
  expect((await own.json()).name).toBe('For permissions')
})

test('a page of another origin cannot act for whoever is signed in', async () => {
  const reply = await callers.owner(
    'POST',
    `/api/sites/${team.site.id}/experiments`,
    { name: 'Forged' },
    { origin: 'http://127.0.0.1:4200' },
  )
  expect(reply.status).toBe(403)
})

test('a forged or changed session cookie is nobody’s', async () => {
  const reply = await fetch(`${url}/api/sites/${team.site.id}/today`, {
    headers: { cookie: 'vetch_account=Fe26.2**forged' },
  })
  expect(reply.status).toBe(401)
})

describe('sign-in', () => {
  const attempt = (email: string, password: string) =>
    fetch(`${url}/api/account/sign-in`, {
      method: 'POST',
      body: JSON.stringify({ email, password }),
      headers: { 'content-type': 'application/json' },
    })

  test('attempts are throttled by account, and say when to try again', async () => {
    const email = `nobody-${Date.now()}@team.example`
    const statuses: number[] = []
    for (let index = 0; index < 9; index++) statuses.push((await attempt(email, 'wrong')).status)
    expect(statuses).toEqual([401, 401, 401, 401, 401, 401, 401, 401, 429])
    expect((await (await attempt(email, 'wrong')).json()).message).toMatch(/Try again in \d+ minutes?/)
  })

  test('signing out ends the session', async () => {
    const caller = await callerOf(url, team.emails.viewer)
    const reply = await caller('POST', '/api/account/sign-out')
    expect(reply.headers.get('set-cookie')).toMatch(/vetch_account=;|Max-Age=0/)
  })

  test('a second owner cannot be created', async () => {
    const reply = await callers.nobody('POST', '/api/account/owner', {
      name: 'X',
      email: 'x@y.example',
      organisation: 'X',
      password: 'long-enough-here',
    })
    expect(reply.status).toBe(409)
  })
})

test('the description of the API names each operation and its input', async () => {
  const description = await (await callers.nobody('GET', '/api/openapi.json')).json()
  for (const [id, { method, path }] of Object.entries(OPERATIONS as Record<string, Operation>))
    expect(description.paths[path][method].operationId).toBe(id)
  const body = description.paths['/api/account/sign-in'].post.requestBody.content['application/json'].schema
  expect(body.required).toEqual(['email', 'password'])
})
