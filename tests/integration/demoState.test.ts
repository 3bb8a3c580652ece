import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { startTemporaryCluster } from '../../cli/stack/temporaryStack'
import { DEMO_SITES } from '../../demo/data/demoSites'
import { demoState, DEMO_PEOPLE, findDemoSites } from '../../demo/data/loadDemo'
import { connect, type Database } from '../../server/database/connect'
import { migrate } from '../../server/database/migrate'
import { organisation, person, site } from '../../server/database/schema'
import { createSite } from '../../server/services/sites/sites'

let database: Database
let end: () => Promise<void>

beforeAll(async () => {
  const { cluster, remove } = await startTemporaryCluster()
  database = connect(cluster.url, 1)
  await migrate(database)
  end = async () => {
    await database.$client.end()
    remove()
  }
})
afterAll(() => end())

test('a demo is loaded again only where its load was cut short, whatever people have renamed since', async () => {
  expect(await demoState(database)).toBe('absent')
  const [team] = await database.insert(organisation).values({ name: 'Kittiwake Crossings' }).returning()
  const { name, email } = DEMO_PEOPLE[0]
  await database.insert(person).values({ name, email, passwordHash: 'none' })
  expect(await demoState(database)).toBe('cut short')
  for (const [index, demo] of DEMO_SITES.entries())
    await createSite(database, team!.id, null, { address: `https://demo-${index}.example`, name: demo.name })
  const [first, ...others] = await findDemoSites(database)
  const load = (id: number) => database.update(site).set({ firstReportAt: new Date() }).where(eq(site.id, id))
  await load(first!.id)
  expect(await demoState(database)).toBe('cut short')
  for (const { id } of others) await load(id)
  expect(await demoState(database)).toBe('complete')

  await database.update(site).set({ name: 'Our ferries' })
  await createSite(database, team!.id, null, { address: 'https://own.example', name: 'A site of our own' })
  expect(await demoState(database)).toBe('complete')
  expect((await findDemoSites(database)).map(({ id }) => id)).toEqual([first!.id, ...others.map(({ id }) => id)])
  await database.update(person).set({ email: 'somebody@else.example' })
  expect(await demoState(database)).toBe('other data')
})
