import { spawn, type ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { existsSync } from 'node:fs'
import { setPriority, totalmem } from 'node:os'
import { resolve } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { isListening } from '../../server/gateway/isListening'
import type { ProcessRole } from '../../server/processes/roles'
import { HumanError } from '../HumanError'
import { asOwnUser } from './ownUser'
import { freePort } from './ports'

export interface ProcessSettings {
  /** Where everybody asks. */
  port: number
  databaseUrl: string
  sessionPassword: string
  /** Origins on this machine that pages may be fetched from. */
  demoOrigins?: readonly string[]
  /** Others on this machine that pages may be fetched from. */
  reach?: readonly string[]
  /** Where letters go out; nowhere when left out. */
  smtpUrl?: string
  /** Where the database keeps what it has, so that its disk can be watched. */
  dataFolder?: string
  /** Whether every answer is held against its schema. */
  checksReplies?: boolean
  /** How many answer customers' pages, and how many everybody else. */
  edges?: number
  webs?: number
  /** Whether it says nothing when all is well. */
  isQuiet?: boolean
}

/** A process as it is started, and started again. */
export interface PlannedProcess {
  /** Its role, with a number where there are several. */
  name: string
  /** What it is called in messages. */
  title: string
  /** Port that it listens on; null of one that nobody asks. */
  port: number | null
  start: () => ChildProcess
}

interface Limits {
  /** Of the machine's memory, and in megabytes at least. */
  memory: readonly [share: number, least: number]
  /** How readily it gives way to others: customers' pages go first, what can wait last. */
  niceness: number
}

/** The processes with a database, and one without whose browsers open the pages of strangers. */
type PlannedRole = ProcessRole | 'browser'

const SERVER = '.output/server/index.mjs'
const PROGRAMS: Record<PlannedRole, string> = {
  gateway: '.output/gateway/main.mjs',
  edge: SERVER,
  web: SERVER,
  reports: '.output/reports/main.mjs',
  worker: '.output/worker/main.mjs',
  browser: '.output/browser/main.mjs',
}
const TITLES: Record<PlannedRole, string> = {
  gateway: 'The gateway',
  edge: 'The edge',
  web: 'The application',
  reports: 'The process for reports',
  worker: 'The worker',
  browser: 'The process for browsers',
}
const LIMITS: Record<PlannedRole, Limits> = {
  gateway: { memory: [0.02, 192], niceness: 0 },
  edge: { memory: [0.06, 384], niceness: 0 },
  web: { memory: [0.1, 512], niceness: 2 },
  reports: { memory: [0.4, 768], niceness: 5 },
  worker: { memory: [0.15, 768], niceness: 8 },
  browser: { memory: [0.01, 128], niceness: 8 },
}
/** What a process may do that other users may not. */
const CAPABILITIES: Partial<Record<PlannedRole, string>> = { gateway: 'net_bind_service' }
const COUNTRIES = 'node_modules/@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'
const MAIL_FROM = 'Vetch <vetch@localhost>'
const MEGABYTE = 1024 * 1024
const LONGEST_START = 60_000

/** Lays out the processes of one installation: each on a port of its own, the gateway where everybody asks. */
export async function planProcesses(settings: ProcessSettings): Promise<PlannedProcess[]> {
  const { port, edges = 1, webs = 1 } = settings
  const ports = {
    edge: await freePorts(edges),
    web: await freePorts(webs),
    reports: await freePort(),
    browser: await freePort(),
  }
  const browserKey = { VETCH_BROWSER_KEY: randomBytes(24).toString('hex') }
  const browsers = { ...browserKey, VETCH_BROWSERS_URL: origin(ports.browser) }
  const ofWeb = { ...browsers, NUXT_REPORTS_URL: origin(ports.reports) }
  const server = (role: 'edge' | 'web') => (own: number, index: number, all: readonly number[]) =>
    planned(role, settings, own, { ...serverEnvironment(settings, role, own), ...(role === 'web' ? ofWeb : {}) }, [
      index,
      all.length,
    ])
  return [
    planned('gateway', settings, port, {
      VETCH_PORT: String(port),
      VETCH_EDGES: ports.edge.map(origin).join(','),
      VETCH_WEBS: ports.web.map(origin).join(','),
      NUXT_TRUSTED_PROXIES: process.env.NUXT_TRUSTED_PROXIES ?? (isDemo(settings) ? '127.0.0.1' : ''),
    }),
    ...ports.edge.map(server('edge')),
    ...ports.web.map(server('web')),
    planned('reports', settings, ports.reports, { VETCH_PORT: String(ports.reports) }),
    planned('worker', settings, null, { ...mailEnvironment(settings), ...browsers }),
    planned('browser', settings, ports.browser, { ...browserKey, VETCH_PORT: String(ports.browser) }),
  ]
}

/** Waits until each process listens, and the application answers. */
export async function untilTheyAnswer(processes: readonly PlannedProcess[], children: readonly ChildProcess[]) {
  const deadline = Date.now() + LONGEST_START
  const isOver = () => Date.now() > deadline || children.some(({ exitCode }) => exitCode !== null)
  const listens = async (port: number | null) => {
    while (port !== null && !(await isListening(origin(port)))) {
      if (isOver()) throw new HumanError('Vetch did not start. The lines above say why.')
      await wait(50)
    }
  }
  await Promise.all(processes.map(({ port }) => listens(port)))
  const gateway = processes.find(({ name }) => name === 'gateway')!
  for (;;) {
    const reply = await fetch(`${origin(gateway.port!)}/api/account`).catch(() => null)
    if (reply?.ok) return
    if (isOver()) throw new HumanError('Vetch did not start. The lines above say why.')
    await wait(50)
  }
}

function planned(
  role: PlannedRole,
  settings: ProcessSettings,
  port: number | null,
  own: NodeJS.ProcessEnv,
  [index, of] = [0, 1],
): PlannedProcess {
  const number = of > 1 ? ` ${index + 1}` : ''
  return {
    name: `${role}${number.replace(' ', '-')}`,
    title: `${TITLES[role]}${number}`,
    port,
    start: () => {
      const { memory, niceness } = LIMITS[role]
      const megabytes = Math.round(Math.max(memory[1], (memory[0] * totalmem()) / MEGABYTE))
      const node = [process.execPath, `--max-old-space-size=${megabytes}`, resolve(PROGRAMS[role])]
      const [program, ...args] = asOwnUser(`vetch-${role}`, node, CAPABILITIES[role])
      const child = spawn(program!, args, {
        stdio: ['ignore', settings.isQuiet ? 'ignore' : 'inherit', 'inherit'],
        env: role === 'browser' ? withoutSecrets(own) : { ...process.env, ...sharedEnvironment(settings), ...own },
      })
      if (child.pid !== undefined) setPriority(child.pid, niceness)
      return child
    },
  }
}

function sharedEnvironment({
  databaseUrl,
  sessionPassword,
  dataFolder,
  demoOrigins = [],
  reach = [],
}: ProcessSettings): NodeJS.ProcessEnv {
  return {
    NODE_ENV: 'production',
    NUXT_DATABASE_URL: databaseUrl,
    NUXT_SESSION_PASSWORD: sessionPassword,
    NUXT_TRUSTED_ORIGINS: [...demoOrigins, ...reach].join(','),
    NUXT_DELIVERY_DIRECTORY: resolve('.output/delivery'),
    ...(dataFolder ? { NUXT_DATA_FOLDER: resolve(dataFolder) } : {}),
  }
}

/** Whoever breaks out of a browser finds nothing. */
function withoutSecrets(own: NodeJS.ProcessEnv): NodeJS.ProcessEnv {
  return {
    NODE_ENV: 'production',
    PATH: process.env.PATH,
    NUXT_DELIVERY_DIRECTORY: resolve('.output/delivery'),
    ...own,
  }
}

function serverEnvironment(settings: ProcessSettings, role: 'edge' | 'web', port: number): NodeJS.ProcessEnv {
  const { checksReplies = false } = settings
  return {
    // What the person sets goes before what is set here.
    NUXT_PLACE_COUNTRY_FILE: existsSync(COUNTRIES) ? resolve(COUNTRIES) : '',
    // Simulated visitors say where they come from, as a proxy would.
    ...(isDemo(settings) ? { NUXT_HAS_MADE_UP_PLACES: 'true' } : {}),
    ...mailEnvironment(settings),
    ...process.env,
    // The gateway has decided whose word is taken.
    NUXT_TRUSTED_PROXIES: '127.0.0.1',
    NUXT_ROLE: role,
    NITRO_HOST: '127.0.0.1',
    NITRO_PORT: String(port),
    NUXT_CHECKS_REPLIES: String(checksReplies),
  }
}

/** Where letters go out, and where their links lead; what the person sets goes before it. */
function mailEnvironment({ smtpUrl, port }: ProcessSettings): NodeJS.ProcessEnv {
  const { NUXT_SMTP_URL = smtpUrl, NUXT_OWN_ORIGIN = origin(port), NUXT_MAIL_FROM = MAIL_FROM } = process.env
  return { ...(NUXT_SMTP_URL ? { NUXT_SMTP_URL } : {}), NUXT_OWN_ORIGIN, NUXT_MAIL_FROM }
}

const isDemo = ({ demoOrigins = [] }: ProcessSettings) => demoOrigins.length > 0
const origin = (port: number) => `http://127.0.0.1:${port}`

async function freePorts(count: number): Promise<number[]> {
  const ports = new Set<number>()
  while (ports.size < count) ports.add(await freePort())
  return [...ports]
}
