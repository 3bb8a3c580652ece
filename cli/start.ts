import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import type { Server } from 'node:http'
import { parseArgs } from 'node:util'
import { eq, like, sql } from 'drizzle-orm'
import { DEMO_WEBHOOK_PATH } from '../demo/data/addNotifications'
import { demoState, DEMO_PASSWORD, DEMO_PEOPLE, emptyDatabase, findDemoSites, loadDemo } from '../demo/data/loadDemo'
import { createKiosk } from '../demo/kiosk/server'
import { createDemoSite } from '../demo/site/server'
import { connect, type Database } from '../server/database/connect'
import { migrate } from '../server/database/migrate'
import { site, webhook } from '../server/database/schema'
import { scriptLine } from '../shared/delivery/scriptLine'
import { openOutbox, type Outbox } from '../stand-ins/outbox/outbox'
import { openReceiver, type Receiver } from '../stand-ins/receiver/receiver'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { pathFromCaller } from './pathFromCaller'
import { refuseHalfRestored } from './restore'
import { buildApplication } from './stack/build'
import { DATABASE, startCluster, type Cluster } from './stack/cluster'
import { keepRunning } from './stack/keepRunning'
import { freePort, isPortFree } from './stack/ports'
import { planProcesses, untilTheyAnswer } from './stack/processes'
import { readSecrets } from './stack/secrets'
import { supervise } from './stack/supervise'

const HELP = helpOf('start')
const NEEDED_BYTES = 1.5e9
/** More would have more connections than the database takes. */
const MOST_PROCESSES = 4
/** What serves the demo's sites, in the order of their data, and the options that choose their ports. */
const DEMO_SERVERS = [
  { title: 'Demo site', option: '--demo-port', create: createDemoSite },
  { title: 'Kiosk', option: '--kiosk-port', create: createKiosk },
] as const

interface Options {
  port: number
  /** Of the demo's sites, in their order; empty without the demo. */
  demoPorts: readonly number[]
  /** Of the outbox. */
  outboxPort: number
  /** Of the receiver of webhooks; null without the demo. */
  receiverPort: number | null
  /** How many processes answer customers' pages, and how many everybody else. */
  edges: number
  webs: number
  /** Origins on this machine that pages may be fetched from. */
  reach: readonly string[]
  dataFolder: string
  isReset: boolean
}

export async function run(args: string[]): Promise<number> {
  const options = readOptions(args)
  if (!options) return 0
  const release = await claimDataFolder(options)
  const stops: (() => unknown)[] = [release]
  const stop = async () => {
    for (const each of stops.splice(0).reverse()) await each()
  }
  try {
    const ended = untilStopped()
    await start(options, stops, ended.stop)
    const failure = await ended.promise
    console.log('\nStopping …')
    await stop()
    if (failure) throw new HumanError(failure)
    return 0
  } catch (error) {
    await stop()
    throw explainDisk(error, options.dataFolder)
  }
}

function readOptions(args: string[]): Options | null {
  const { values } = parse(args)
  if (values.help) {
    console.log(HELP)
    return null
  }
  const port = (name: string, text: string) => {
    const number = Number(text)
    if (!Number.isInteger(number) || number < 1 || number > 65_535)
      throw new HumanError(`--${name} takes a port number from 1 to 65535, not "${text}".`)
    return number
  }
  const processes = (name: string, text: string) => {
    const number = Number(text)
    if (!Number.isInteger(number) || number < 1 || number > MOST_PROCESSES)
      throw new HumanError(`--${name} takes a number from 1 to ${MOST_PROCESSES}, not "${text}".`)
    return number
  }
  return {
    port: port('port', values.port),
    demoPorts: values['no-demo']
      ? []
      : [port('demo-port', values['demo-port']), port('kiosk-port', values['kiosk-port'])],
    outboxPort: port('outbox-port', values['outbox-port']),
    receiverPort: values['no-demo'] ? null : port('receiver-port', values['receiver-port']),
    edges: processes('edges', values.edges),
    webs: processes('webs', values.webs),
    reach: values.reach.map(readOrigin),
    dataFolder: values.data === undefined ? resolve('.data') : pathFromCaller(values.data),
    isReset: values.reset,
  }
}

function readOrigin(text: string): string {
  const isOrigin = URL.canParse(text) && /^https?:$/.test(new URL(text).protocol)
  if (!isOrigin) throw new HumanError(`--reach takes an origin such as http://127.0.0.1:8080, not "${text}".`)
  return new URL(text).origin
}

function parse(args: string[]) {
  try {
    return parseArgs({
      args,
      options: {
        port: { type: 'string', default: '4100' },
        'demo-port': { type: 'string', default: '4200' },
        'kiosk-port': { type: 'string', default: '4201' },
        'outbox-port': { type: 'string', default: '4202' },
        'receiver-port': { type: 'string', default: '4203' },
        edges: { type: 'string', default: '1' },
        webs: { type: 'string', default: '1' },
        data: { type: 'string' },
        reach: { type: 'string', multiple: true, default: [] },
        'no-demo': { type: 'boolean', default: false },
        reset: { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
      },
    })
  } catch (error) {
    throw new HumanError(`${error instanceof Error ? error.message : error}\n\n${HELP}`)
  }
}

async function start(options: Options, stops: (() => unknown)[], fail: (why: string) => void): Promise<void> {
  const { port, demoPorts, dataFolder } = options
  const demoOrigins = demoPorts.map((each) => `http://127.0.0.1:${each}`)
  await buildApplication()
  const cluster = await startCluster(dataFolder)
  stops.push(() => cluster.stop())
  for (const name of cluster.earlier) {
    console.error(
      `This version begins anew, in the database “${DATABASE}”. That of an earlier version, “${name}”, is left where it is.`,
    )
  }
  const database = connect(cluster.url, 4)
  stops.push(() => database.$client.end())

  await migrate(database)
  if (options.isReset) await emptyDatabase(database)
  const keys = demoPorts.length > 0 ? await prepareDemo(database, demoOrigins) : null
  const receiver = keys ? await startReceiver(options, database, stops) : null
  const outbox = process.env.NUXT_SMTP_URL ? null : await startOutbox(options, stops)
  const reachable = receiver ? [...demoOrigins, receiver.address] : demoOrigins
  await serve(options, cluster, { demoOrigins: reachable, smtpUrl: outbox?.smtpUrl }, stops)
  stops.push(keepRunning(cluster))

  console.log(`\nVetch      http://127.0.0.1:${port}`)
  if (outbox) console.log(`Outbox     ${outbox.webUrl}`)
  if (receiver) console.log(`Receiver   ${receiver.address}`)
  if (keys) {
    for (const [index, key] of keys.entries()) {
      const { title, create } = DEMO_SERVERS[index]!
      const line = scriptLine(`http://127.0.0.1:${port}`, key)
      const demo = await serveDemo(create({ scriptLine: line }), demoPorts[index]!).catch((error: Error) => {
        fail(error.message)
        throw error
      })
      stops.push(() => demo.close())
      console.log(`${title.padEnd(10)} ${demoOrigins[index]}`)
    }
    console.log(`Sign in    ${DEMO_PEOPLE[0].email} with ${DEMO_PASSWORD}`)
  }
  console.log('\nCtrl-C stops everything.')
}

/** Letters go to a stand-in where no mail server is set: they can be read in the browser, and leave nothing. */
async function startOutbox({ outboxPort, dataFolder }: Options, stops: (() => unknown)[]): Promise<Outbox> {
  const outbox = await openOutbox({
    smtpPort: await freePort(),
    webPort: outboxPort,
    folder: join(dataFolder, 'outbox'),
  })
  stops.push(() => outbox.close())
  return outbox
}

/** A stand-in for a program that is told of what happens by webhooks. It knows the secrets of those that lead to it. */
async function startReceiver(
  { receiverPort }: Options,
  database: Database,
  stops: (() => unknown)[],
): Promise<Receiver | null> {
  if (receiverPort === null) return null
  const address = `http://127.0.0.1:${receiverPort}`
  // It may have moved to another port since.
  const leading = await database
    .update(webhook)
    .set({ address: sql`regexp_replace(${webhook.address}, '^[a-z]+://[^/]+', ${address})` })
    .where(like(webhook.address, `http://127.0.0.1:%${DEMO_WEBHOOK_PATH}`))
    .returning({ secret: webhook.secret })
  const receiver = await openReceiver({ port: receiverPort, secrets: leading.map(({ secret }) => secret) })
  stops.push(() => receiver.close())
  return receiver
}

/** Starts all processes, and starts each again should it end by itself. */
async function serve(
  { port, reach, dataFolder, edges, webs }: Options,
  cluster: Cluster,
  { demoOrigins, smtpUrl }: { demoOrigins: string[]; smtpUrl?: string },
  stops: (() => unknown)[],
): Promise<void> {
  const { sessionPassword } = readSecrets(dataFolder)
  const planned = await planProcesses({
    port,
    databaseUrl: cluster.url,
    sessionPassword,
    dataFolder,
    demoOrigins,
    reach,
    smtpUrl,
    edges,
    webs,
  })
  const notes = processNotes(dataFolder)
  rmSync(notes, { recursive: true, force: true })
  mkdirSync(notes)
  const kept = planned.map(({ name, title, start }) => {
    const noted = () => {
      const child = start()
      writeFileSync(join(notes, `${name}.pid`), String(child.pid))
      return child
    }
    return supervise(title, noted)
  })
  stops.push(() => Promise.all(kept.map(({ stop }) => stop())))
  await untilTheyAnswer(
    planned,
    kept.map(({ current }) => current()),
  )
}

/** Where the numbers of the processes stand while they run. */
const processNotes = (dataFolder: string) => join(dataFolder, 'processes')

/** Loads the demo into an empty database, again where it was cut short. Own data is left alone. */
async function prepareDemo(database: Database, origins: readonly string[]): Promise<string[] | null> {
  const state = await demoState(database)
  if (state === 'other data') return null
  if (state === 'cut short') await emptyDatabase(database)
  if (state !== 'complete') {
    console.error('Loading the demo data …')
    await loadDemo(database, origins, new Date(), (done, of) => {
      if (process.stderr.isTTY) process.stderr.write(`\r  ${done} of ${of} days`)
    })
    if (process.stderr.isTTY) process.stderr.write('\n')
  }
  // The demo sites may have moved to other ports since.
  const demoSites = await findDemoSites(database)
  for (const [index, { id }] of demoSites.entries())
    await database.update(site).set({ address: origins[index]! }).where(eq(site.id, id))
  return demoSites.map(({ key }) => key)
}

function serveDemo(server: Server, port: number): Promise<Server> {
  return new Promise((started, failed) => {
    server.once('error', () =>
      failed(new HumanError(`Port ${port} is in use. Choose another for the demo with --demo-port and --kiosk-port.`)),
    )
    server.listen(port, '127.0.0.1', () => started(server))
  })
}

/** Resolves with a reason, or with nothing when the person stops it. */
function untilStopped(): { promise: Promise<string | null>; stop: (why: string) => void } {
  let stop: (why: string) => void = () => {}
  const promise = new Promise<string | null>((ended) => {
    stop = ended
    process.once('SIGINT', () => ended(null))
    process.once('SIGTERM', () => ended(null))
  })
  return { promise, stop }
}

/** Makes sure that no other Vetch uses the data folder or the ports, and clears away what a crash has left. */
async function claimDataFolder({
  dataFolder,
  port,
  demoPorts,
  outboxPort,
  receiverPort,
}: Options): Promise<() => void> {
  try {
    mkdirSync(dataFolder, { recursive: true })
  } catch {
    throw new HumanError(`The data folder ${dataFolder} cannot be created. Choose another with --data.`)
  }
  const { bavail, bsize } = statfsSync(dataFolder)
  if (bavail * bsize < NEEDED_BYTES && !existsSync(join(dataFolder, 'postgres'))) {
    throw new HumanError(
      `The disk that holds ${dataFolder} has ${Math.round((bavail * bsize) / 1e6)} MB left; Vetch needs about 1500. Free some space or choose another folder with --data.`,
    )
  }
  refuseHalfRestored(dataFolder)
  const lock = join(dataFolder, 'vetch.pid')
  const holder = existsSync(lock) ? Number(readFileSync(lock, 'utf8')) : 0
  if (holder && isVetch(holder))
    throw new HumanError(
      `Vetch is running already with the data in ${dataFolder} (process ${holder}). Stop it first, or choose another folder with --data.`,
    )
  await endOrphans(dataFolder)
  const wanted: [option: string, port: number][] = [
    ['--port', port],
    ['--outbox-port', outboxPort],
    ...(receiverPort === null ? [] : [['--receiver-port', receiverPort] as [string, number]]),
    ...demoPorts.map((each, index): [string, number] => [DEMO_SERVERS[index]!.option, each]),
  ]
  for (const [name, each] of wanted) {
    if (!(await isPortFree(each)))
      throw new HumanError(`Port ${each} is in use. Stop what uses it, or choose another with ${name}.`)
  }
  writeFileSync(lock, String(process.pid))
  return () => rmSync(lock, { force: true })
}

function isVetch(pid: number): boolean {
  return commandLine(pid).includes('cli/main.ts')
}

/** Processes whose starter was killed go on by themselves; the gateway would hold the port. */
async function endOrphans(dataFolder: string): Promise<void> {
  const notes = processNotes(dataFolder)
  const files = existsSync(notes) ? readdirSync(notes) : []
  for (const file of files) {
    const pid = Number(readFileSync(join(notes, file), 'utf8'))
    if (!pid || !/\.output\/(server|gateway|reports|worker)\//.test(commandLine(pid))) continue
    process.kill(pid, 'SIGTERM')
    for (let tries = 0; tries < 50 && commandLine(pid); tries++) await new Promise((tick) => setTimeout(tick, 100))
  }
}

function commandLine(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8')
  } catch {
    return ''
  }
}

function explainDisk(error: unknown, dataFolder: string): unknown {
  const code = error instanceof Error && 'code' in error ? error.code : null
  const isFull =
    code === 'ENOSPC' ||
    code === '53100' ||
    (error instanceof Error && /no space left/i.test(`${error.message} ${error.cause}`))
  return isFull
    ? new HumanError(
        `The disk that holds ${dataFolder} is full. Free some space, then start again; what was acknowledged is kept.`,
      )
    : error
}
