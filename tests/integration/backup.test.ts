import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { backUp } from '../../cli/backup'
import { refuseHalfRestored, restore } from '../../cli/restore'
import { startCluster, type Cluster } from '../../cli/stack/cluster'
import { startProcesses, startTemporaryStack, type TemporaryStack } from '../../cli/stack/temporaryStack'
import { assign } from '../../core/assignment/assignment'
import { timeOrderedId } from '../../core/identity/timeOrderedId'
import { DAY } from '../../core/time/units'
import { connect } from '../../server/database/connect'
import { experiment } from '../../server/database/schema'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { compileSiteFile } from '../../server/services/sites/compileSiteFile'
import { folded, happen } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { visitorId } from '../visitorId'
import { callerOf, createTeam } from './people'

const NOW = new Date()
const folder = mkdtempSync(join(tmpdir(), 'vetch-backup-'))
let stack: TemporaryStack
let team: Awaited<ReturnType<typeof createTeam>>
/** A team whose visitors go on coming meanwhile. */
let busy: Awaited<ReturnType<typeof createTeam>>
let experimentId: number
const clusters: Cluster[] = []

beforeAll(async () => {
  stack = await startTemporaryStack()
  const { database } = stack
  team = await createTeam(database)
  busy = await createTeam(database)
  await compileSiteFile(database, busy.site.id)
  const booked = primaryMetric('Booked', 'mean', { type: 'event', name: 'order' })
  experimentId = await startedExperiment(database, team.site.id, NOW.getTime() - 5 * DAY, booked)
  const [plan] = await database.select().from(experiment)
  await happen(
    database,
    team.site,
    [...Array(200).keys()].flatMap((index) => {
      const visitor = visitorId(`kept-${index}`)
      const variant = assign(visitor, { salt: plan!.salt, share: plan!.share, weights: [1, 1] })!
      const at = NOW.getTime() - 3 * DAY + index * 1000
      return [
        { visitor, at, type: 'exposure' as const, experiment: experimentId, variant },
        { visitor, at: at + 60_000, type: 'custom' as const, name: 'order', amount: index / 10, currency: 'EUR' },
      ]
    }),
  )
  await folded(database, team.site.id)
})
afterAll(async () => {
  clusters.forEach((cluster) => {
    cluster.stop()
    rmSync(join(cluster.folder, '..'), { recursive: true, force: true })
  })
  await stack.stop()
  rmSync(folder, { recursive: true, force: true })
})

let count = 0
/** Views of the busy site, acknowledged one after the other until it is over. */
function sending() {
  const acknowledged: string[] = []
  let isOver = false
  const send = async () => {
    while (!isOver) {
      const id = timeOrderedId(Date.now(), ++count % 4096, crypto.getRandomValues(new Uint8Array(8)))
      const view = { id, visitor: visitorId('of-busy'), session: 'session', address: busy.site.address }
      const body = JSON.stringify({ key: busy.site.key, sent: Date.now(), views: [view], events: [] })
      const reply = await fetch(`${stack.url}/collect`, {
        method: 'POST',
        body,
        headers: { origin: busy.site.address },
      })
      if (reply.ok) acknowledged.push(id)
    }
  }
  const senders = [send(), send()]
  return { acknowledged, end: () => ((isOver = true), Promise.all(senders)) }
}

test('what is backed up while visitors come is there again: figures, files, accounts and what was acknowledged', async () => {
  const file = join(folder, 'vetch.backup')
  const visitors = sending()
  await expect.poll(() => visitors.acknowledged.length, { timeout: 120_000 }).toBeGreaterThan(20)
  const before = [...visitors.acknowledged]
  const about = await backUp(stack.folder, file)
  await visitors.end()
  expect(visitors.acknowledged.length).toBeGreaterThan(before.length)
  expect(statSync(file).mode & 0o077).toBe(0)

  const other = join(folder, 'restored')
  expect(await restore(file, other)).toEqual(about)
  expect(existsSync(join(other, 'restore-unfinished'))).toBe(false)
  const cluster = await startCluster(other)
  clusters.push(cluster)
  const database = connect(cluster.url, 2)
  const figures = async (of: typeof database) =>
    experimentResults(of, await findSheet(of, team.site.id, experimentId), NOW)
  expect(await figures(database)).toEqual(await figures(stack.database))
  const { rows } = await database.execute<{ id: string }>(
    sql`SELECT id::text AS id FROM page_view WHERE site_id = ${busy.site.id}`,
  )
  const there = new Set(rows.map(({ id }) => id))
  expect(before.filter((id) => !there.has(id))).toEqual([])
  await database.$client.end()

  // It goes on where it was: people sign in, visitors are counted, and what waited is folded.
  const again = await startProcesses(cluster.url, other)
  const owner = await callerOf(again.url, team.emails.owner)
  expect((await owner('GET', `/api/sites/${team.site.id}/experiments/${experimentId}/results`)).status).toBe(200)
  const health = async () => (await (await fetch(`${again.url}/api/health`)).json()).waitingToBeFolded
  await expect.poll(health, { timeout: 120_000 }).toBe(0)
  again.stop()
}, 120_000)

test('a backup is written over nothing, and restored into an empty folder only', async () => {
  const file = join(folder, 'taken')
  writeFileSync(file, 'mine')
  await expect(backUp(stack.folder, file)).rejects.toThrow('is there already')
  expect(readFileSync(file, 'utf8')).toBe('mine')
  await expect(backUp(join(folder, 'nowhere'), join(folder, 'x'))).rejects.toThrow('There is no data of Vetch')
  await expect(restore(file, folder)).rejects.toThrow('is not empty')
  const fresh = join(folder, 'fresh')
  await expect(restore(file, fresh)).rejects.toThrow('is no backup of Vetch')
  expect(existsSync(fresh)).toBe(false)

  const half = join(folder, 'half')
  mkdirSync(half)
  writeFileSync(join(half, 'restore-unfinished'), '')
  expect(() => refuseHalfRestored(half)).toThrow('was broken off')
})
