import type { SessionView } from '../../shared/accounts/replies'
import { randomUUID } from 'node:crypto'
import { readdirSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { eq } from 'drizzle-orm'
import { connect } from '../../server/database/connect'
import { experiment, rollout } from '../../server/database/schema'
import { createAudience } from '../../server/services/audiences/savedAudiences'
import { createExperiment } from '../../server/services/experiments/experiments'
import { ROLES, type Role } from '../../shared/accounts/account'
import { fillPath, type Operation } from '../../shared/api/operation'
import { addAttachment } from '../../server/services/attachments'
import { createHypothesis } from '../../server/services/hypotheses/hypotheses'
import { DEFAULT_TERMS, hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { createFinding } from '../../server/services/findings/findings'
import { createSurvey } from '../../server/services/surveys/surveys'
import { CROSSINGS_SURVEY } from '../../demo/data/survey'
import { OPERATIONS, type OperationId } from '../../shared/api/operations'
import { ROLE_OF_SCOPE, TOKEN_SCOPES, type TokenScope } from '../../shared/accounts/token'
import { createToken } from '../../server/services/accounts/tokens'
import { collected } from '../collection'
import { primaryMetric } from '../metrics'
import { callerOf, createTeam, PASSWORD } from './people'
import { visitorId } from '../visitorId'
import { ownStack } from './ownStack'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
type Caller = Awaited<ReturnType<typeof callerOf>>
const tokenOf =
  (token: string): Caller =>
  (method, path, body) =>
    callers.nobody(method, path, body, { authorization: `Bearer ${token}` })
const callers = {} as Record<Role | 'nobody' | 'stranger', Caller>
let team: Awaited<ReturnType<typeof createTeam>>
let stranger: Awaited<ReturnType<typeof createTeam>>
const tokens = {} as Record<Role | 'stranger', string>

beforeAll(async () => {
  team = await createTeam(database)
  stranger = await createTeam(database)
  const draft = await createExperiment(database, team.site.id, null, 'For permissions')
  const won = await createExperiment(database, team.site.id, null, 'Won')
  await database.update(experiment).set({ startedAt: new Date() }).where(eq(experiment.id, won.id))
  const none = 2_147_483_647
  const survey = await createSurvey(database, team.site.id, null, SURVEY)
  const frozen = { report: 'pages', question: DAYS, focus: null, place: 'pages', figures: [], at: DAYS.to } as const
  const seen = await createFinding(database, team.site.id, null, {
    title: 'Seen',
    words: '',
    severity: 'low',
    tags: [],
    page: null,
    pin: null,
    frozen: { ...frozen, figures: [{ key: 'a', label: 'A', kind: 'count', value: 1 }] },
  })
  const target = { siteId: team.site.id, findingId: seen.id, personId: null }
  const note = { name: 'x.txt', content: Buffer.from('x'), isPicture: false }
  const file = await addAttachment(database, target, note)
  const idea = await createHypothesis(database, { siteId: team.site.id, personId: null }, IDEA)
  const phones = await createAudience(database, team.site.id, null, { name: 'Phones', conditions: PHONES })
  const asked = { join: 'all', of: [{ fact: 'audience', is: 'yes', id: phones.id }] } as const
  // What another one asks for is not deleted.
  await createAudience(database, team.site.id, null, { name: 'Around', conditions: asked })
  const served = (
    await database
      .insert(rollout)
      .values({
        siteId: team.site.id,
        experimentId: won.id,
        variantId: won.variants[1]!.id,
        salt: 'permissions',

        share: 10_000,
        isForEverybody: true,
        isOn: false,
      })
      .returning()
  )[0]
  ids = {
    audience: phones.id,
    experiment: draft.id,
    change: none,
    token: none,
    job: none,
    exclusion: none,
    member: none,
    invitation: none,
    funnel: none,
    survey: survey.id,
    finding: seen.id,
    hypothesis: idea.id,
    comment: none,
    attachment: file.id,
    picture: none,
    preview: none,
    group: none,
    environment: none,
    holdout: none,
    rollout: served!.id,
    persona: none,
    approval: none,
    alarm: none,
    device: none,
    webhook: none,
    delivery: none,
    metric: 'metric-none',
    visitor: 'visitor-none',
    person: 'ab'.repeat(16),
    visit: 'visit-none',
    note: none,
    dayNote: none,
  }
  const tokenFor = async (siteId: number, scope: TokenScope) =>
    (await createToken(database, siteId, null, scope, scope)).token
  for (const scope of TOKEN_SCOPES) tokens[ROLE_OF_SCOPE[scope]] = await tokenFor(team.site.id, scope)
  tokens.stranger = await tokenFor(stranger.site.id, 'manage')
  for (const role of ROLES) callers[role] = await callerOf(url, team.emails[role])
  callers.stranger = await callerOf(url, stranger.emails.owner)
  callers.nobody = await callerOf(url)
})
afterAll(() => database.$client.end())

const guarded = Object.entries(OPERATIONS as Record<string, Operation>).filter(([, { path }]) =>
  path.startsWith('/api/sites'),
)
const experimentId = () => ids.experiment
/** Ids for the parameters of paths; of what is not there, one that nobody has. */
let ids: Record<string, number | string>
const RANGE = '?from=2026-03-01&to=2026-03-28'
const FUNNEL = {
  isStrict: false,
  limitMinutes: null,
  isWithinSession: true,
  steps: ['/', '/book'].map((value) => ({ name: value, source: { type: 'visit', page: { match: 'exact', value } } })),
}
const DAYS = { from: '2026-03-01', to: '2026-03-28' }
/** What an operation must be asked for. */
const QUERIES: Partial<Record<OperationId, string>> = {
  explainNumber: '?number=allocation',
  readSinceExposure: '?metric=1',
  readEventsStatement: '?number=allocation',
  reportPages: RANGE,
  reportPageFlow: `${RANGE}&of=/book`,
  reportOverTime: RANGE,
  readMarks: RANGE,
  reportEvents: RANGE,
  reportForms: RANGE,
  reportSurvey: `${RANGE}&survey={survey}`,
  reportSurveys: RANGE,
  reportCandidates: RANGE,
  addAttachment: '?name=notes.txt',
  addHypothesisFile: '?name=notes.txt',
  uploadPicture: '?name=pier.png',
  listPagePictures: '?path=/&width=390',
  sampleEvents: `${RANGE}&kind=page`,
  listRecordings: RANGE,
  findSimilar: '?text=length',
  readThread: '?finding={finding}',
  reportClicks: `${RANGE}&of=is:/book`,
  reportReading: `${RANGE}&of=is:/book`,
  readStyleSheet: '?address=https://styles.example/a.css&at=0',
}
const pathOf = (id: string, operation: Operation) =>
  fillPath(operation.path + (QUERIES[id as OperationId] ?? ''), { ...ids, site: team.site.id })

const PHONES = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] } as const
const IDEA = hypothesisSchema.validateSync({ title: 'Shorter' })
const SURVEY = { name: CROSSINGS_SURVEY.name, content: CROSSINGS_SURVEY.content }
const metric = primaryMetric('Orders', 'conversion', { type: 'click', selector: '#order' })
/** A valid body for every operation that takes one, so that each call reaches its handler. */
const BODIES: Partial<Record<OperationId, object>> = {
  createSite: { address: 'https://permissions.example', name: 'Permissions' },
  updateSite: { name: 'Permissions' },
  updateCollection: collected({ behavior: 5000 }),
  openPage: { path: '/' },
  addRecordingNote: { moment: 0, words: 'Seen.' },
  reportFunnel: { ...DAYS, plan: FUNNEL },
  reportFunnelLeft: { ...DAYS, plan: FUNNEL, step: 0 },
  stateReport: { report: 'pages', question: DAYS },
  addDayNote: { day: '2026-03-01', words: 'For permissions' },
  changeDayNote: { day: '2026-03-01', words: 'For permissions' },
  createFunnel: { name: 'For permissions', plan: FUNNEL },
  updateFunnel: { name: 'For permissions', plan: FUNNEL },
  startRollout: {},
  orderServed: { order: [1] },
  changeRollout: { version: 1, isOn: false },
  keepPagePicture: { path: '/', width: 390 },
  createSurvey: SURVEY,
  updateSurvey: { ...SURVEY, version: 1 },
  // As it has been changed before.
  setSurveyState: { state: 'running', version: 2 },
  createFinding: { title: 'Seen' },
  updateFinding: { title: 'Seen', state: 'open', version: 1 },
  mergeFinding: { into: null },
  createHypothesis: { title: 'Shorter' },
  importHypotheses: { rows: [{ title: 'Shorter' }] },
  updateHypothesis: { title: 'Shorter', version: 1 },
  setHypothesisStage: { stage: 'worth testing' },
  placeHypothesis: { place: null },
  addHypothesisComment: { words: 'Seen.' },
  assessIdea: { metric: 'metric-none' },
  updateRankingTerms: DEFAULT_TERMS,
  checkInstallation: { path: '/' },
  createToken: { name: 'A program', scope: 'read' },
  createExperiment: { name: 'Made by whoever may' },
  makeExperiment: { purpose: 'test' },
  draftPersonalization: { variant: 'variant-none' },
  changeExperiment: {
    id: randomUUID(),
    change: { do: 'set', of: { part: 'sheet' }, from: { hypothesis: '' }, to: { hypothesis: 'For permissions.' } },
  },
  addMetric: { version: 1, metric: { ...metric, role: 'secondary' } },
  addExclusion: { kind: 'visitor', visitor: visitorId('visitor-0001'), reason: 'Because.' },
  openPointing: { path: '/' },
  createPreview: { variant: 'variant-b', path: '/', days: 2 },
  findWordings: { text: 'Find a crossing', manner: 'warmer' },
  takeVariantPictures: {},
  pinDevice: { name: 'A phone' },
  createEnvironment: { name: 'staging', address: 'https://staging.permissions.example' },
  showInEnvironment: { environment: 2_147_483_647, share: 10_000 },
  createGroup: { name: 'Booking', kind: 'parts' },
  createHoldout: { name: 'Autumn', share: 500, until: '2031-01-01' },
  createAudience: { name: 'For permissions', conditions: PHONES },
  updateAudience: { name: 'Phones', conditions: PHONES },
  sizeAudience: { conditions: PHONES },
  createPersona: { name: 'Desk', facts: { device: 'desktop' } },
  updatePersona: { name: 'Desk', facts: {} },
  openPanel: { path: '/' },
  decide: { facts: {}, address: '/' },
  dryRun: { facts: { device: 'desktop' }, address: '/' },
  showOnDevice: { experiment: null, variant: null },
  addExperimentComment: { words: 'Seen.' },
  askApproval: { person: 1 },
  markSeen: { upTo: 1 },
  changeExperimentWays: { ways: [{ kind: 'alarm', way: 'list' }] },
  createWebhook: { address: 'http://127.0.0.1:9/', kinds: ['alarm'] },
  changeWebhook: { address: 'http://127.0.0.1:9/', kinds: ['alarm'], isOn: true },
  answerApproval: { answer: 'approved' },
  tryMetric: { kind: 'conversion', source: { type: 'click', selector: '#order' } },
  renameMetric: { name: 'Orders' },
  tellPresence: { variant: 'variant-b', tab: 'tab-0001' },
  changeRole: { role: 'editor' },
  createInvitation: { email: 'somebody@permissions.example', role: 'viewer' },
  startExperiment: {},
  scheduleExperiment: { start: null, end: null },
  endExperiment: {},
  tagAnswers: { question: 'q1', answers: [{ visitor: visitorId('visitor-0001'), session: 's', at: 1 }], tag: 'dogs' },
  settleSplit: { cause: 'other', words: 'A wrong link.' },
  acknowledgeAlarm: { word: 'Known.' },
  erasePerson: { visitors: [] },
}

/** A draft has no numbers yet, nobody was recorded, nothing is wrong, no style sheet was kept, no picture was taken. */
const MISSING = new Set<string>([
  'readHoldout',
  'readHypothesisFile',
  'explainNumber',
  'readEventsStatement',
  'readRecording',
  'readRecordedEvents',
  'readStyleSheet',
  'exportVisitor',
  'exportPerson',
  'readPagePicture',
  'readPagePlaces',
  'readVariantPicture',
  'answerApproval',
  'acknowledgeAlarm',
  'listDeliveries',
])

const call = (caller: Caller, id: string, operation: Operation) =>
  caller(operation.method.toUpperCase(), pathOf(id, operation), operation.body ? BODIES[id as OperationId] : undefined)

test('every operation that takes a body is called with a valid one', async () => {
  for (const [id, { body }] of guarded)
    if (body) await expect(body.validate(BODIES[id as OperationId]), id).resolves.toBeDefined()
})

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

describe.each(guarded)('%s', (id, operation) => {
  test('refuses whoever is not signed in, and tokens that are none', async () => {
    expect((await call(callers.nobody, id, operation)).status).toBe(401)
    const forged: Caller = (method, path, body) =>
      callers.nobody(method, path, body, { authorization: 'Bearer vetch_forged' })
    expect((await call(forged, id, operation)).status).toBe(401)
  })

  test('does not exist for members of another organisation, nor for its tokens', async () => {
    if (operation.access === 'organisation-owner') return
    expect((await call(callers.stranger, id, operation)).status).toBe(404)
    expect((await call(tokenOf(tokens.stranger), id, operation)).status).toBe(404)
  })

  // What is deleted would be missing in the other cases, so it is asked for once, at the end of the roles.
  test.each(ROLES)('as %s, signed in or with a token', async (role) => {
    const needed = operation.access === 'organisation-owner' ? 'owner' : (operation.access as Role)
    const mayCall = ROLES.indexOf(role) >= ROLES.indexOf(needed)
    if (!mayCall) {
      expect((await call(callers[role], id, operation)).status).toBe(403)
      if (operation.access !== 'organisation-owner')
        expect((await call(tokenOf(tokens[role]), id, operation)).status).toBe(403)
      return
    }
    if (['deleteExperiment', 'deleteFinding', 'deleteAttachment'].includes(id)) return
    const reply = await call(callers[role], id, operation)
    const { status } = reply
    // The handler has answered: with what it was asked for, or because the thing is not in that state.
    expect([200, 404, 409, 422], `${id} as ${role}`).toContain(status)
    const found = MISSING.has(id) ? 404 : 200
    if (operation.method === 'get') expect(status).toBe(found)
    if (status === 200 && operation.reply.schema)
      await expect(operation.reply.schema.validate(await reply.json(), { strict: true })).resolves.toBeDefined()
    if (operation.method === 'get') expect((await call(tokenOf(tokens[role]), id, operation)).status).toBe(found)
  })
})

test('lists come a page at a time, each thing once', async () => {
  const site = `/api/sites/${team.site.id}`
  const exclusions = `${site}/experiments/${experimentId()}/exclusions`
  for (const visitor of ['visitor-0002', 'visitor-0003'].map(visitorId))
    expect((await callers.owner('POST', exclusions, { kind: 'visitor', visitor, reason: 'Ours.' })).status).toBe(200)
  await callerOf(url, team.emails.owner)
  const changes = `${site}/experiments/${experimentId()}/changes`
  for (const path of [`${site}/tokens`, `${site}/jobs`, exclusions, changes, '/api/account/sessions']) {
    const read = async (query: string) =>
      (await (await callers.owner('GET', path + query)).json()) as { items: { id: number }[]; next: number | null }
    const all = await read('?limit=200')
    expect([path, all.items.length > 1, all.next]).toEqual([path, true, null])
    const ids: number[] = []
    let next: number | null = null
    do {
      const page = await read(next === null ? '?limit=1' : `?limit=1&after=${next}`)
      ids.push(...page.items.map(({ id }) => id))
      next = page.next
    } while (next !== null)
    expect([path, ids]).toEqual([path, all.items.map(({ id }) => id)])
    expect((await callers.owner('GET', `${path}?limit=0`)).status).toBe(422)
  }
})

test('the description of the API tells what each operation answers', async () => {
  const { paths } = (await (await callers.nobody('GET', '/api/openapi.json')).json()) as {
    paths: Record<string, Record<string, { responses: { 200: { content: Record<string, { schema?: object }> } } }>>
  }
  const answers = Object.values(paths).flatMap((methods) => Object.values(methods))
  for (const { responses } of answers) {
    const json = responses[200].content['application/json']
    if (json) expect(json.schema).toHaveProperty('type')
  }
  const sheet = paths['/api/sites/{site}/experiments/{experiment}']!.get!.responses[200].content['application/json']!
  expect(sheet.schema).toMatchObject({ properties: { metrics: { type: 'array' }, version: { type: 'integer' } } })
})

test('tokens are shown once, are worth nothing once taken back, and never act as a person', async () => {
  const path = `/api/sites/${team.site.id}/tokens`
  const made = await (await callers.owner('POST', path, { name: 'Report', scope: 'edit' })).json()
  const caller = tokenOf(made.token)
  expect((await caller('POST', `/api/sites/${team.site.id}/experiments`, { name: 'By a program' })).status).toBe(200)
  const listed = await (await callers.owner('GET', path)).text()
  expect(listed).toContain(made.beginning)
  expect(listed).not.toContain(made.token)
  expect((await caller('GET', '/api/account/sessions')).status).toBe(403)
  expect((await callers.owner('DELETE', `${path}/${made.id}`)).status).toBe(200)
  expect((await caller('GET', `/api/sites/${team.site.id}/today`)).status).toBe(401)
})

test('an experiment of another site is not reached through one’s own', async () => {
  const path = `/api/sites/${stranger.site.id}/experiments/${experimentId()}`
  for (const [method, end] of [
    ['GET', ''],
    ['GET', '/results'],
    ['POST', '/changes'],
    ['POST', '/start'],
    ['POST', '/restore'],
    ['DELETE', ''],
  ] as const) {
    const reply = await callers.stranger(
      method,
      path + end,
      end === '/changes' ? { ...BODIES.changeExperiment, id: randomUUID() } : undefined,
    )
    expect([method, end, reply.status]).toEqual([method, end, 404])
  }
  const own = await callers.viewer('GET', `/api/sites/${team.site.id}/experiments/${experimentId()}`)
  expect((await own.json()).hypothesis).toBe('For permissions.')
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
  const signInRequest = (email: string, password: string, cookie = '') => ({
    method: 'POST',
    body: JSON.stringify({ email, password }),
    headers: { 'content-type': 'application/json', cookie },
  })
  const attempt = (email: string, password: string) =>
    fetch(`${url}/api/account/sign-in`, signInRequest(email, password))

  test('attempts are throttled by account, and say when to try again', async () => {
    const email = `nobody-${Date.now()}@team.example`
    const statuses: number[] = []
    for (let index = 0; index < 9; index++) statuses.push((await attempt(email, 'wrong')).status)
    expect(statuses).toEqual([401, 401, 401, 401, 401, 401, 401, 401, 429])
    expect((await (await attempt(email, 'wrong')).json()).message).toMatch(/Try again in \d+ minutes?/)
  })

  test('forty strangers’ guesses do not lock out a device that has signed in before', async () => {
    const email = team.emails.viewer
    const first = await fetch(`${url}/api/account/sign-in`, signInRequest(email, PASSWORD))
    const device = /vetch_device=[^;]+/.exec(first.headers.get('set-cookie')!)![0]
    for (let guess = 0; guess < 45; guess++) await attempt(email, 'wrong')
    expect((await attempt(email, PASSWORD)).status).toBe(429)
    expect((await fetch(`${url}/api/account/sign-in`, signInRequest(email, PASSWORD, device))).status).toBe(200)
  })

  test('signing out ends the session: its cookie opens nothing any more', async () => {
    const caller = await callerOf(url, team.emails.editor)
    expect((await caller('GET', '/api/account/sessions')).status).toBe(200)
    const reply = await caller('POST', '/api/account/sign-out')
    expect(reply.headers.get('set-cookie')).toMatch(/vetch_account=;|Max-Age=0/)
    expect((await caller('GET', '/api/account/sessions')).status).toBe(401)
  })

  test('sessions are listed, and can be ended from elsewhere', async () => {
    const [one, other] = [await callerOf(url, team.emails.owner), await callerOf(url, team.emails.owner)]
    const sessions: SessionView[] = (await (await one('GET', '/api/account/sessions')).json()).items
    const own = (await (await other('GET', '/api/account/sessions')).json()).items.find(
      ({ isOwn }: SessionView) => isOwn,
    )
    expect(sessions.filter(({ isOwn }) => isOwn)).toHaveLength(1)
    expect((await one('DELETE', `/api/account/sessions/${own.id}`)).status).toBe(200)
    expect((await other('GET', '/api/account/sessions')).status).toBe(401)
    expect((await one('GET', '/api/account/sessions')).status).toBe(200)
    expect(
      (await callers.stranger('DELETE', `/api/account/sessions/${sessions.find(({ isOwn }) => isOwn)!.id}`)).status,
    ).toBe(404)
  })

  test.each<[string, object]>([
    ['a list for an address', { email: ['a'], password: 'x' }],
    ['NUL in an address', { email: 'a\u0000@b.example', password: 'x' }],
    ['NUL in a password', { email: 'a@b.example', password: 'x\u0000' }],
    ['nothing', {}],
  ])('%s is refused, and no error of the server', async (_, body) => {
    const reply = await callers.nobody('POST', '/api/account/sign-in', body)
    expect([401, 422]).toContain(reply.status)
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

test('a method that an address does not take is refused, and never answered with the interface', async () => {
  for (const [method, path, allowed] of [
    ['PUT', '/api/account', 'GET, PATCH'],
    ['DELETE', `/api/sites/${team.site.id}/experiments`, 'GET, POST'],
    ['PATCH', '/api/health', 'GET'],
    ['PUT', '/api/nothing', null],
  ] as const) {
    const reply = await callers.owner(method, path)
    expect([method, path, reply.status, reply.headers.get('content-type')]).toEqual([
      ...[method, path, allowed ? 405 : 404],
      'application/json',
    ])
    if (allowed) expect(reply.headers.get('allow')!.split(', ').sort()).toEqual(allowed.split(', '))
  }
})

test('a body without an end is not read to its end', async () => {
  let sent = 0
  const endless = new ReadableStream({
    pull(controller) {
      sent += 65_536
      if (sent > 60_000_000) controller.close()
      else controller.enqueue(new Uint8Array(65_536).fill(97))
    },
  })
  const status = await fetch(`${url}/api/account/sign-in`, {
    method: 'POST',
    body: endless,
    duplex: 'half',
  } as RequestInit).then(
    (reply) => reply.status,
    () => 413,
  )
  expect(status).toBe(413)
  expect(sent).toBeLessThan(60_000_000)
})

test('the description of the API names each operation and its input', async () => {
  const description = await (await callers.nobody('GET', '/api/openapi.json')).json()
  for (const [id, { method, path }] of Object.entries(OPERATIONS as Record<string, Operation>))
    expect(description.paths[path][method].operationId).toBe(id)
  const body = description.paths['/api/account/sign-in'].post.requestBody.content['application/json'].schema
  expect(body.required).toEqual(['email', 'password'])
})
