import type { PersonExport } from '../../shared/visitors/operations'
import { readFile } from 'node:fs/promises'
import { expect } from '@playwright/test'
import { sql } from 'drizzle-orm'
import { personId } from '../../core/identity/personId'
import { folded, happen } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './team'
import { test } from './world'
import { DAY, HOUR, MINUTE } from '../../core/time/units'

const START = Date.now() - 72 * HOUR

test('an owner finds a person by the id of the pages, hands out what is kept, and erases it', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'one-person')
  const known = personId(team.siteKey, 'customer-4711')
  const other = personId(team.siteKey, 'customer-4712')
  const opened = (visitor: string, path: string, person: string) => ({
    visitor,
    at: START,
    path,
    view: { personId: person },
  })
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, [
    opened('phone-of-one', '/book', known),
    opened('shared-computer', '/help', known),
    opened('shared-computer', '/times', other),
  ])
  await folded(world.database, team.siteId)

  const sent: string[] = []
  page.on('request', (request) => sent.push(request.url() + (request.postData() ?? '')))
  await team.signIn(page, 'owner', 'setup/collection')
  const field = page.getByLabel('Id of the person')
  const find = page.getByRole('button', { name: 'Find', exact: true })
  await find.click()
  await expect(page.getByText('Type the id that your pages give for this person.')).toBeVisible()
  await field.fill('customer-9')
  await find.click()
  await expect(page.getByText('Nothing is kept of this person.')).toBeVisible()
  await expect(field).toHaveValue('customer-9')
  await field.fill('customer-4711')
  await find.click()
  const found = page.getByTestId('person')
  await expect(found.getByRole('checkbox', { name: /phone-of-one, 1 page, .* used by nobody else/ })).toBeChecked()
  await expect(
    found.getByRole('checkbox', { name: /shared-computer, 1 page, .* used by 1 other person/ }),
  ).not.toBeChecked()

  const [file] = await Promise.all([
    page.waitForEvent('download'),
    found.getByRole('button', { name: 'Export' }).click(),
  ])
  const handedOut = JSON.parse(await readFile((await file.path())!, 'utf8')) as PersonExport
  expect(handedOut.person).toBe(known)
  expect(JSON.stringify(handedOut)).toContain('/book')
  expect(JSON.stringify(handedOut)).not.toContain('/times')

  await found.getByRole('button', { name: 'Erase …' }).click()
  await expect(page.getByRole('dialog')).toContainText('The person stays, with what they did on the others.')
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click()
  await found.getByRole('checkbox', { name: /phone-of-one/ }).uncheck()
  await expect(found.getByText('Choose the devices to erase.')).toBeVisible()
  await expect(found.getByRole('button', { name: 'Erase …' })).toBeDisabled()
  await found.getByRole('checkbox', { name: /phone-of-one/ }).check()
  await found.getByRole('checkbox', { name: /shared-computer/ }).check()
  await found.getByRole('button', { name: 'Erase …' }).click()
  await expect(page.getByRole('dialog')).toContainText('The person and their devices are erased')
  await page.getByRole('dialog').getByRole('button', { name: 'Erase', exact: true }).click()
  await expect(page.getByText(/^Erased \d+ entries\.$/)).toBeVisible()
  const { rows } = await world.database.execute(sql`
    SELECT visitor_id FROM page_view WHERE site_id = ${team.siteId}
    UNION ALL SELECT id FROM visitor WHERE site_id = ${team.siteId}`)
  expect(rows).toEqual([])
  expect(sent.filter((request) => request.includes('customer-4711'))).toEqual([])
})

test('an owner reads why events were set aside, and has them counted once the cause is mended', async ({
  world: { database, ...world },
  page,
}) => {
  const team = await createTeam({ database, ...world }, 'set-aside')
  const order = primaryMetric('Booked', 'mean', { type: 'event', name: 'order' })
  const experiment = await startedExperiment(database, team.siteId, START, order)
  await database.execute(
    sql.raw(`ALTER TABLE visitor_value ADD CONSTRAINT fault CHECK (visitor_id <> 'visitor-of-the-fault') NOT VALID`),
  )
  const values = () => database.$client.query('SELECT value FROM visitor_value WHERE site_id = $1', [team.siteId])
  try {
    await happen(database, { id: team.siteId, address: team.siteAddress }, [
      { visitor: 'visitor-of-the-fault', at: START + HOUR, type: 'exposure', experiment, variant: 0 },
      { visitor: 'visitor-of-the-fault', at: START + 2 * HOUR, type: 'custom', name: 'order', amount: 7 },
    ])
    await folded(database, team.siteId)
    await team.signIn(page, 'editor', 'setup/site')
    await expect(page.getByRole('heading', { name: 'Script line' })).toBeVisible()
    await expect(page.getByRole('heading', { name: 'Events set aside' })).toHaveCount(0)
    await team.signIn(page, 'owner', 'setup/site')
    const section = page.getByRole('region', { name: 'Events set aside' })
    await expect(section).toContainText('1 event since')
    await section.getByRole('button', { name: 'Count them again' }).click()
    await expect(page.getByText('1 event still cannot be counted.')).toBeVisible()
    expect((await values()).rows).toEqual([])
  } finally {
    await database.execute(sql`ALTER TABLE visitor_value DROP CONSTRAINT fault`)
  }
  await page.getByRole('button', { name: 'Count them again' }).click()
  await expect(page.getByText('Counted 1 event. Nothing is set aside any more.')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Events set aside' })).toHaveCount(0)
  expect((await values()).rows).toEqual([{ value: '7' }])
})

test('an owner leaves out whom one network brought, reads so in the list, and takes it back', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'crowded')
  const order = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  const id = await startedExperiment(world.database, team.siteId, START, order)
  // All on one day, whatever the time is now.
  const noon = Date.now() - (Date.now() % DAY) - 12 * HOUR
  const exposed = (visitor: string, index: number, network: string) => ({
    visitor,
    at: noon - index * MINUTE,
    type: 'exposure' as const,
    experiment: id,
    variant: index % 2,
    view: { network },
  })
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, [
    ...Array.from({ length: 60 }, (_, index) => exposed(`own-${index}`, index, `net-${index}`)),
    ...Array.from({ length: 40 }, (_, index) => exposed(`crowd-${index}`, index, 'crowded')),
  ])
  await folded(world.database, team.siteId)
  await team.signIn(page, 'viewer', `experiments/${id}`)
  const told = page.getByText(/one network brought 40 of 100 visitors/)
  await expect(told).toBeVisible()
  await expect(page.getByRole('button', { name: 'Leave them out' })).toHaveCount(0)

  await page.context().clearCookies()
  await team.signIn(page, 'owner', `experiments/${id}`)
  await page.getByRole('button', { name: 'Leave them out' }).click()
  const list = page.getByRole('region', { name: 'Left out of the numbers' })
  await expect(list.getByText(/^Visitors of [\d-]+ from one network$/)).toBeVisible()
  await expect(told).toHaveCount(0)
  await expect(page.getByText('Control 30 of 30 expected')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(list.getByText('Nobody. Robots are always left out.')).toBeVisible()
  await expect(told).toBeVisible()
})
