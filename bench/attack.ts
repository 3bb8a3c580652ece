import { spawn, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { setPriority } from 'node:os'
import { resolve } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { gzipSync } from 'node:zlib'
import { sql } from 'drizzle-orm'
import { freePort } from '../cli/stack/ports'
import { startTemporaryStack, type TemporaryStack } from '../cli/stack/temporaryStack'
import { timeOrderedId } from '../core/identity/timeOrderedId'
import { DAY } from '../core/time/units'
import { copyArrivals, copyText } from '../demo/data/copyArrivals'
import { runningProcess } from '../server/database/schema'
import { PROCESS_ROLES, type ProcessRole } from '../server/processes/roles'
import { fillSheet } from '../server/services/experiments/changeSheet'
import { createExperiment } from '../server/services/experiments/experiments'
import { compileSiteFile } from '../server/services/sites/compileSiteFile'
import { arrivalOf } from '../tests/arrivals'
import { percentile, rounded, sized, type Measurement } from './measurement'
import { PLAN, primaryMetric } from '../tests/metrics'
import { startedExperiment } from '../tests/startedExperiment'
import { visitorId } from '../tests/visitorId'
import { callerOf, createTeam, PASSWORD } from '../tests/integration/people'

/** Of 100 turns of an event loop, how late the slowest but one may be, in ms. */
const LATEST = 20
const READY = 0
const NICEST = 8
/** Of each attack, as many as go on at once, and for how long, in ms. */
const ATTACKERS = 2
const LASTS = sized(3500, 1500)
/** Each process says once a second how late it was in the second before. */
const BEAT = 1000
const MOST_ATTACKS = sized(Infinity, 4)
const PAST_VIEWS = sized(12_000, 400)

interface Attacked {
  stack: TemporaryStack
  team: Awaited<ReturnType<typeof createTeam>>
  experimentId: number
  draftId: number
}

/** A site with two thousand visitors, one of them with very many views, and a page that is much to read. */
async function prepare(origin: string): Promise<Attacked> {
  // As it runs for people: answers are held against their schemas in tests only. Each attacker comes from where they say.
  process.env.NUXT_TRUSTED_PROXIES = '127.0.0.1'
  process.env.VETCH_BEAT_EVERY = String(BEAT)
  const stack = await startTemporaryStack([origin], true, false)
  delete process.env.VETCH_BEAT_EVERY
  const { database } = stack
  const team = await createTeam(database)
  await database.execute(sql`UPDATE site SET address = ${origin} WHERE id = ${team.site.id}`)
  team.site.address = origin
  const booked = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const experimentId = await startedExperiment(database, team.site.id, Date.now() - 10 * DAY, booked)
  const { id: draftId } = await createExperiment(database, team.site.id, null, 'Draft')
  const seen = { fact: 'seen', page: { match: 'contains', value: 'b' }, is: 'least', number: 2 } as const
  await fillSheet(
    database,
    { siteId: team.site.id, experimentId: draftId, personId: null },
    {
      pageRules: [{ match: 'begins', value: '/' }],
      audience: { join: 'all', of: [seen] },
      plan: PLAN,
      metrics: [booked],
    },
  )
  await compileSiteFile(database, team.site.id)
  const past = Array.from({ length: PAST_VIEWS }, (_, index) => ({
    visitor: visitorId(index < PAST_VIEWS / 3 ? 'busy' : `past-${index % 2000}`),
    at: Date.now() - 8 * DAY + index * 30_000,
    path: `/book/${index % 40}`,
  }))
  for (let from = 0; from < past.length; from += 4000)
    await copyArrivals(database.$client, copyText([arrivalOf(team.site, past.slice(from, from + 4000))]))
  return { stack, team, experimentId, draftId }
}

let count = 0
const newId = () => timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
const anyNetwork = () => `198.${Math.floor(count / 60_000) % 250}.${Math.floor(count / 250) % 250}.${count % 250}`

const HARD = [...Array(30).keys()].map((index) => `^${'(a|b|ab)*c?'.repeat(9)}${index}$`)
const NESTED = gzipSync(`${'['.repeat(2_000_000)}${']'.repeat(2_000_000)}`)
const RUBBISH = JSON.stringify({ key: 'x', views: Array.from({ length: 1500 }, () => ({ a: [1, { b: 'x' }] })) })

type Attacks = Record<string, () => Promise<unknown>>

/** What strangers do at the limits of public addresses, and members with what they may. */
async function attacksOn(
  { stack, team, experimentId, draftId }: Attacked,
  noteAccepted: (accepted: number) => void,
): Promise<Attacks> {
  const viewer = await callerOf(stack.url, team.emails.viewer)
  const editor = await callerOf(stack.url, team.emails.editor)
  const post = (path: string, body: string | Uint8Array<ArrayBuffer>) => {
    const headers = { origin: team.site.address, 'x-forwarded-for': anyNetwork() }
    return fetch(`${stack.url}${path}`, { method: 'POST', body, headers })
  }
  const sendBatch = async () => {
    const visitor = visitorId(`attack-${++count}`)
    const view = { id: newId(), visitor, session: 'attack', address: `${team.site.address}/book` }
    const events = Array.from({ length: 200 }, () => ({ id: newId(), view: view.id, type: 'custom', name: 'thing' }))
    const body = JSON.stringify({ key: team.site.key, sent: Date.now(), views: [view], events })
    const reply = await post('/collect', body)
    if (reply.ok) noteAccepted(((await reply.json()) as { accepted: number }).accepted)
  }
  const guess = () =>
    fetch(`${stack.url}/api/account/sign-in`, {
      method: 'POST',
      body: JSON.stringify({ email: team.emails.owner, password: `${PASSWORD}${++count}` }),
      headers: { 'content-type': 'application/json', 'x-forwarded-for': anyNetwork() },
    })
  const at = `/api/sites/${team.site.id}`
  const day = (time: number) => new Date(time).toISOString().slice(0, 10)
  const days = `from=${day(Date.now() - 20 * DAY)}&to=${day(Date.now())}`
  const draft = `${at}/experiments/${draftId}`
  const read = async (path: string) => (await viewer('GET', at + path)).arrayBuffer()
  const expressions = { join: 'all', of: [{ fact: 'browser', is: 'regex', texts: HARD }] }
  return {
    batches: sendBatch,
    rubbish: () => post('/collect', RUBBISH),
    'chunks that unpack to much': () => post(`/record?key=${team.site.key}`, new Uint8Array(NESTED)),
    'made-up keys': () => fetch(`${stack.url}/place?key=made-up-${++count}`),
    surveys: () => fetch(`${stack.url}/recorder.js?kind=survey&key=${team.site.key}`),
    'guessed passwords': guess,
    'hard expressions': () => viewer('POST', `${at}/audience-size`, { conditions: expressions }),
    'dry runs': () => viewer('GET', `${draft}/dry-run`),
    preflight: () => viewer('GET', `${draft}/preflight`),
    reports: () => read(`/evidence/pages?${days}`),
    results: () => read(`/experiments/${experimentId}/results`),
    today: () => read('/today'),
    'large bodies': () => editor('PATCH', draft, { words: 'x'.repeat(1_900_000) }),
    'event lists': () => read(`/evidence/events?${days}`),
  }
}

interface Delay {
  attack: string
  role: ProcessRole
  delay: number
  /** Of an idle process that gives way as readily: what the machine makes of it. */
  idle: number
}

/** How late the event loop of each process is while each address is attacked, against that of an idle process. */
export async function measureEventLoops(): Promise<Measurement[]> {
  const page = `<html><body>${'<p class="a b">Boats</p>'.repeat(40_000)}</body></html>`
  const heavyPage = createServer((_, reply) => reply.end(page))
  await new Promise<void>((listening) => heavyPage.listen(0, '127.0.0.1', listening))
  const attacked = await prepare(`http://127.0.0.1:${(heavyPage.address() as AddressInfo).port}`)
  const references = [await idleProcess(attacked, READY), await idleProcess(attacked, NICEST)]
  try {
    return await attackEach(attacked, references)
  } finally {
    references.forEach(({ child }) => child.kill())
    await attacked.stack.stop()
    heavyPage.close()
  }
}

async function attackEach(attacked: Attacked, references: readonly Reference[]): Promise<Measurement[]> {
  const { stack, team } = attacked
  let accepted = 0
  const attacks = await attacksOn(attacked, (more) => (accepted += more))
  const scripts: number[] = []
  let isOver = false
  const serve = async () => {
    const began = performance.now()
    const reply = await fetch(`${stack.url}/s/${team.site.key}.js`)
    await reply.arrayBuffer()
    if (reply.ok) scripts.push(performance.now() - began)
  }
  const serving = again(serve, () => isOver)
  const delays: Delay[] = []
  const memory: number[] = []
  for (const [attack, work] of Object.entries(attacks).slice(0, MOST_ATTACKS)) {
    let isDone = false
    const attacking = Array.from({ length: ATTACKERS }, () => again(work, () => isDone))
    await wait(BEAT)
    const usual = await usualDelays(attacked, LASTS)
    isDone = true
    await Promise.all(attacking)
    memory.push(memoryOf(stack.current('edge')))
    delays.push(...PROCESS_ROLES.map((role) => ({ attack, role, ...ofRole(role, stack, usual, references) })))
    await wait(BEAT)
  }
  isOver = true
  await serving
  const stored = await storedCount(attacked)
  if (accepted === 0 || stored < accepted) throw new Error(`${accepted} were acknowledged, and ${stored} are there.`)
  const growth = Math.max(...memory.slice(3)) - memory[2]!
  return PROCESS_ROLES.map((role) => delayOf(role, delays, { memory: growth, script: percentile(scripts, 0.99) }))
}

function delayOf(role: ProcessRole, delays: readonly Delay[], beside: { memory: number; script: number }): Measurement {
  const own = delays.filter((each) => each.role === role).sort((one, other) => other.delay - one.delay)
  const { delay, idle, attack } = own[0]!
  return {
    name: `event-loops, ${role}`,
    value: rounded(delay, 3),
    unit: `ms that the slowest but one of 100 turns is late, under the worst of ${own.length} attacks (${attack})`,
    reference: { what: 'an idle process at the same time', value: rounded(idle, 3), ratio: rounded(delay / idle, 3) },
    aim: `less than ${LATEST} ms more`,
    details: {
      claim: `the event loop of the process for ${role} is less than ${LATEST} ms later than an idle one under every attack`,
      holds: delay - idle < LATEST,
      ...(role === 'edge' ? { megabytesMore: rounded(beside.memory, 3), scriptMs: rounded(beside.script, 3) } : {}),
    },
  }
}

async function storedCount({ stack }: Attacked): Promise<number> {
  const { rows } = await stack.database.execute<{ stored: string }>(sql`
    SELECT (SELECT count(*) FROM page_view WHERE session_id = 'attack')
      + (SELECT count(*) FROM event WHERE name = 'thing') AS stored`)
  return Number(rows[0]!.stored)
}

async function again(work: () => Promise<unknown>, isOver: () => boolean): Promise<void> {
  while (!isOver()) {
    await work().catch(() => {})
    await wait(2)
  }
}

/** How late each process was in most seconds of some time, by its number. */
async function usualDelays({ stack }: Attacked, milliseconds: number): Promise<Map<number, number>> {
  const until = Date.now() + milliseconds
  const since = new Date()
  const told = new Map<number, Map<number, number>>()
  while (Date.now() < until) {
    for (const { name, delay, seenAt } of await stack.database.select().from(runningProcess)) {
      if (seenAt <= since) continue
      const pid = Number(name.split(' ')[2])
      told.set(pid, (told.get(pid) ?? new Map<number, number>()).set(seenAt.getTime(), delay))
    }
    await wait(250)
  }
  return new Map([...told].map(([pid, each]) => [pid, percentile([...each.values()], 0.5)]))
}

interface Reference {
  child: ChildProcess
  niceness: number
}

function ofRole(
  role: ProcessRole,
  stack: TemporaryStack,
  usual: ReadonlyMap<number, number>,
  references: readonly Reference[],
): Pick<Delay, 'delay' | 'idle'> {
  const gives = role === 'reports' || role === 'worker' ? NICEST : READY
  const { child } = references.find(({ niceness }) => niceness === gives)!
  // A process that has said nothing at all was late for as long as it lasted, at least.
  return { delay: usual.get(stack.current(role).pid!) ?? LASTS, idle: usual.get(child.pid!) ?? LASTS }
}

/** A gateway that nobody asks anything. */
async function idleProcess({ stack }: Attacked, niceness: number): Promise<Reference> {
  const child = spawn(process.execPath, [resolve('.output/gateway/main.mjs')], {
    stdio: 'inherit',
    env: {
      ...process.env,
      VETCH_BEAT_EVERY: String(BEAT),
      VETCH_PORT: String(await freePort()),
      NUXT_DATABASE_URL: stack.cluster.url,
    },
  })
  setPriority(child.pid!, niceness)
  return { child, niceness }
}

/** Megabytes that a process has in memory. */
function memoryOf({ pid }: ChildProcess): number {
  return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024
}
