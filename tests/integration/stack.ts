import pg from 'pg'
import type { TestProject } from 'vitest/node'
import { APPLICATION_ROLE } from '../../cli/stack/applicationRole'
import { DATABASE } from '../../cli/stack/cluster'
import { startProcesses, startTemporaryCluster, type Processes } from '../../cli/stack/temporaryStack'
import { connect } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'

/** What one worker of the test runner works with. */
export interface OwnStack {
  url: string
  databaseUrl: string
  /** Where the letters that went out can be read. */
  outboxUrl: string
}

declare module 'vitest' {
  interface ProvidedContext {
    stacks: OwnStack[]
  }
}

/** A database of its own for each worker, made from a template, with an application and a worker process on it. */
export default async function setup(project: TestProject) {
  const { cluster, folder, remove } = await startTemporaryCluster()
  const template = connect(cluster.url, 1)
  await migrate(template)
  await template.$client.end()
  const admin = new pg.Client({ connectionString: cluster.adminUrl })
  await admin.connect()
  const stacks: { databaseUrl: string; processes: Processes }[] = []
  for (let number = 1; number <= project.config.maxWorkers; number++) {
    const name = `worker_${number}`
    await admin.query(`CREATE DATABASE ${name} TEMPLATE ${DATABASE} OWNER ${APPLICATION_ROLE}`)
    const databaseUrl = databaseUrlOf(cluster.url, name)
    stacks.push({ databaseUrl, processes: await startProcesses(databaseUrl, folder) })
  }
  await admin.end()
  project.provide(
    'stacks',
    stacks.map(({ databaseUrl, processes }) => ({
      databaseUrl,
      url: processes.url,
      outboxUrl: processes.outbox.webUrl,
    })),
  )
  return () => {
    stacks.forEach(({ processes }) => processes.stop())
    remove()
  }
}

function databaseUrlOf(url: string, name: string): string {
  return Object.assign(new URL(url), { pathname: name }).href
}
