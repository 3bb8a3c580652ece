import type { ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startCluster, type Cluster } from './cluster'
import { freePort } from './ports'
import { readSecrets } from './secrets'
import { startServer, startWorkerProcess } from './server'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'

/** A database cluster and the built application on it, in a folder that goes away with them. */
export interface TemporaryStack {
  cluster: Cluster
  database: Database
  url: string
  application: () => ChildProcess
  worker: () => ChildProcess
  startApplication: () => Promise<void>
  startWorker: () => void
  stop: () => Promise<void>
}

export async function startTemporaryStack(
  demoOrigins: readonly string[] = [],
  hasWorker = true,
): Promise<TemporaryStack> {
  const folder = mkdtempSync(join(tmpdir(), 'vetch-temporary-'))
  const cluster = await startCluster(folder)
  const database = connect(cluster.url, 4)
  await migrate(database)
  const port = await freePort()
  let application: ChildProcess
  let worker: ChildProcess | undefined
  const startApplication = async () => {
    const { sessionPassword } = readSecrets(folder)
    application = await startServer({
      port,
      databaseUrl: cluster.url,
      sessionPassword,
      demoOrigins,
      checksReplies: true,
    })
  }
  const startWorker = () => {
    worker = startWorkerProcess(cluster.url, true)
  }
  if (hasWorker) startWorker()
  await startApplication()
  return {
    cluster,
    database,
    url: `http://127.0.0.1:${port}`,
    application: () => application,
    worker: () => worker!,
    startApplication,
    startWorker,
    stop: async () => {
      application.kill('SIGKILL')
      worker?.kill('SIGKILL')
      await database.$client.end()
      cluster.stop()
      rmSync(folder, { recursive: true, force: true })
      rmSync(join(cluster.folder, '..'), { recursive: true, force: true })
    },
  }
}
