import type { ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startCluster, type Cluster } from './cluster'
import { freePort } from './ports'
import { planProcesses, untilTheyAnswer } from './processes'
import { readSecrets } from './secrets'
import { openOutbox, type Outbox } from '../../stand-ins/outbox/outbox'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'

/** The processes of Vetch on a database, perhaps without the worker, with a post box. */
export interface Processes {
  url: string
  outbox: Outbox
  /** Each by its name; see `cli/stack/processes.ts`. */
  current: (name: string) => ChildProcess
  /** Where one listens by itself. */
  portOf: (name: string) => number
  /** Starts one that is not there, or is there no more. */
  start: (name: string) => void
  stop: () => void
}

/** A database cluster and the processes on it, in a folder that goes away with them. */
export interface TemporaryStack extends Omit<Processes, 'stop'> {
  cluster: Cluster
  /** With the secrets. */
  folder: string
  database: Database
  stop: () => Promise<void>
}

export async function startTemporaryStack(
  demoOrigins: readonly string[] = [],
  hasWorker = true,
  checksReplies = true,
): Promise<TemporaryStack> {
  const { cluster, folder, remove } = await startTemporaryCluster()
  const database = connect(cluster.url, 4)
  await migrate(database)
  const processes = await startProcesses(cluster.url, folder, demoOrigins, hasWorker, checksReplies)
  return {
    ...processes,
    cluster,
    folder,
    database,
    stop: async () => {
      processes.stop()
      await database.$client.end()
      remove()
    },
  }
}

/** A cluster in a folder of its own. */
export async function startTemporaryCluster(): Promise<{ cluster: Cluster; folder: string; remove: () => void }> {
  const folder = mkdtempSync(join(tmpdir(), 'vetch-temporary-'))
  const cluster = await startCluster(folder)
  return {
    cluster,
    folder,
    remove: () => {
      cluster.stop()
      rmSync(folder, { recursive: true, force: true })
      rmSync(join(cluster.folder, '..'), { recursive: true, force: true })
    },
  }
}

/** @param folder - where the secrets are */
export async function startProcesses(
  databaseUrl: string,
  folder: string,
  demoOrigins: readonly string[] = [],
  hasWorker = true,
  checksReplies = true,
): Promise<Processes> {
  const port = await freePort()
  const outbox = await openOutbox({ smtpPort: await freePort(), webPort: await freePort() })
  const planned = await planProcesses({
    port,
    databaseUrl,
    sessionPassword: readSecrets(folder).sessionPassword,
    demoOrigins,
    smtpUrl: outbox.smtpUrl,
    checksReplies,
    isQuiet: true,
  })
  const running = new Map<string, ChildProcess>()
  const start = (name: string) => {
    running.set(name, planned.find((each) => each.name === name)!.start())
  }
  const wanted = planned.filter(({ name }) => hasWorker || name !== 'worker')
  wanted.forEach(({ name }) => start(name))
  await untilTheyAnswer(wanted, [...running.values()])
  return {
    url: `http://127.0.0.1:${port}`,
    outbox,
    current: (name) => running.get(name)!,
    portOf: (name) => planned.find((each) => each.name === name)!.port!,
    start,
    stop: () => {
      running.forEach((child) => child.kill('SIGKILL'))
      void outbox.close()
    },
  }
}
