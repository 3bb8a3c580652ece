import { createServer } from 'node:http'
import { expect, type Locator, type Page } from '@playwright/test'
import { sql } from 'drizzle-orm'
import { createFunnel } from '../../server/services/evidence/funnels'
import { updateCollection } from '../../server/services/collection/collection'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { folded, happen, type Happening } from '../arrivals'
import { collected } from '../collection'
import { createTeam } from './team'
import { newVisitor, reported, withClock } from './visitor'
import { test, type World } from './world'

const TYPED = ['4711.2599', '2027-06-17', '06172027']
const row = (page: Page, name: string | RegExp) => page.getByRole('row', { name })

/** Every row of every table that holds one of some texts. */
async function rowsWith({ database }: World, texts: readonly string[]): Promise<string[]> {
  const { rows: tables } = await database.execute<{ name: string }>(sql`
    SELECT format('%I.%I', table_schema, table_name) AS name FROM information_schema.tables
    WHERE table_type = 'BASE TABLE' AND table_schema NOT IN ('pg_catalog', 'information_schema')`)
  expect(tables.length).toBeGreaterThan(30)
  const found: string[] = []
  for (const { name } of tables)
    for (const text of texts) {
      const pattern = `%${text}%`
      const { rows } = await database.execute<{ row: string }>(
        sql`SELECT t::text AS row FROM ${sql.raw(name)} t WHERE t::text LIKE ${pattern} LIMIT 1`,
      )
      found.push(...rows.map((each) => `${name}: ${each.row}`))
    }
  return found
}

test('a visitor who hesitates in a form on a phone and leaves is seen in the form, the funnel and the heatmap', async ({
  world,
  browser,
  page,
}) => {
  const { database, demoOrigin, url } = world
  const team = await createTeam(world, 'evidence')
  await updateCollection(database, team.siteId, null, collected({ behavior: 10_000, recording: 10_000 }))
  await world.serveDemo({ scriptLine: scriptLine(url, team.siteKey) })
  await createFunnel(database, team.siteId, null, {
    name: 'Booking',
    plan: {
      steps: ['/book', '/book/travelers'].map((value) => ({
        name: value,
        source: { type: 'visit', page: { match: 'exact', value } },
      })),

      isStrict: false,
      limitMinutes: null,
      isWithinSession: true,
    },
  })
  await team.signIn(page, 'owner', 'evidence/events')
  await page.getByLabel('Only from this browser').uncheck()
  await expect(page.getByText('Listening.')).toBeVisible()

  const sent: string[] = []
  const context = await newVisitor(browser)
  context.on('request', (request) => sent.push(request.postData() ?? ''))
  const phone = await context.newPage()
  await phone.setViewportSize({ width: 390, height: 844 })
  await withClock(phone)
  await phone.goto(`${demoOrigin}/book`)
  await phone.waitForFunction(() => performance.getEntriesByType('resource').some(({ name }) => /recorder/.test(name)))
  await phone.getByLabel('Day').pressSequentially('06172027')
  await phone.getByLabel(/Length of the vehicle/).focus()
  await phone.clock.fastForward(1500)
  await phone.getByLabel(/Length of the vehicle/).pressSequentially('4711.2599', { delay: 20 })
  await phone.getByLabel(/Length of the vehicle/).fill('')
  await phone.locator('h1').click()
  await phone.clock.fastForward(1100)
  await phone.goto(`${demoOrigin}/help`)
  await reported(phone)
  await context.close()
  await folded(database, team.siteId)

  // What arrives is told as it arrives.
  const live = page.getByRole('table', { name: 'What arrives' })
  await expect(live.getByRole('row', { name: /field.*\/book.*Length of the vehicle/ })).toBeVisible()

  await page.goto(`${url}/sites/${team.siteId}/evidence/forms?days=7`)
  await page.getByLabel('Form', { exact: true }).selectOption({ label: 'booking on /book (1)' })
  await expect(page.getByText('1 sessions saw it, 1 began, 0 sent it')).toBeVisible()
  const length = row(page, /Length of the vehicle/)
  await expect(length).toContainText('100.0 %')
  const cells = await length.getByRole('cell').allInnerTexts()
  expect(Number(/([\d.]+) s/.exec(cells[2]!)![1])).toBeGreaterThan(1.5)
  expect(cells.at(-2)).toContain('100.0 %')
  expect(cells.at(-1)).toContain('100.0 %')
  await page.getByRole('button', { name: 'How do you know?' }).click()
  await expect(page.getByTestId('statement').getByLabel('Statement')).toContainText(
    "kind IN ('form', 'field', 'submit')",
  )
  await page.keyboard.press('Escape')

  // One key keeps it as a finding, with its figures and a picture.
  await page.locator('h1').click()
  await page.keyboard.press('f')
  const dialog = page.getByRole('dialog', { name: 'Save as a finding' })
  await expect(dialog.getByLabel('Page')).toHaveValue('/book')
  await dialog.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(dialog.getByText('Say in a line what was found.')).toBeVisible()
  await dialog.getByLabel('What was found').fill('Phones leave at the length')
  await dialog.getByLabel('Tags').fill('Phone, booking, phone')
  await expect(dialog.getByAltText('The view as it is seen now')).toBeVisible()
  await dialog.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved as a finding.')).toBeVisible()
  await page.getByRole('link', { name: 'Findings' }).click()
  await expect(row(page, /Phones leave at the length/)).toContainText('phone, booking')
  await page.getByRole('link', { name: 'Phones leave at the length' }).click()
  await expect(row(page, /Length of the vehicle.*left here/)).toContainText('100.0 % of 1')
  await expect(page.getByAltText('The view.jpg')).toHaveJSProperty('complete', true)
  await expect(page.getByText('The two periods overlap')).toBeVisible()
  await page.getByRole('link', { name: 'Open it' }).click()
  await expect(page).toHaveURL(/forms\?form=.*&from=/)
  await expect(page.getByText('1 sessions saw it, 1 began, 0 sent it')).toBeVisible()

  await page.goto(`${url}/sites/${team.siteId}/evidence/funnels?days=7`)
  const steps = page.getByTestId('funnel').getByRole('listitem')
  await expect(steps.nth(0)).toContainText('1 sessions')
  await expect(steps.nth(1)).toContainText('0 sessions')
  await steps.nth(1).getByRole('button', { name: '1 dropped off here' }).click()
  await expect(page.getByRole('dialog').getByRole('row')).toHaveCount(2)
  await page.keyboard.press('Escape')

  await page.goto(`${url}/sites/${team.siteId}/evidence/heatmap?days=7&of=is:/book&layer=dead`)
  await expect(page.getByText(/1 dead click by 1 visitor on/)).toBeVisible()
  await expect(page.getByTestId('heatmap')).toHaveAttribute('data-drawn', 'yes')
  const headline = await page.frameLocator('iframe').locator('h1').boundingBox()
  await page.mouse.move(headline!.x + headline!.width / 2, headline!.y + headline!.height / 2)
  await expect(page.getByText(/heading: 1 clicks, 100.0 %/)).toBeVisible()

  // The recording shows it too, and is found by what was left and what was clicked.
  await page.goto(`${url}/sites/${team.siteId}/evidence/recordings?days=7&happened=left-form,dead&clicked=h1`)
  await expect(page.getByText('1 of 1 recordings')).toBeVisible()
  await page.getByRole('table').getByRole('link').first().click()
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible()

  // Of what was typed there is nothing anywhere.
  for (const typed of TYPED) expect(sent.join('\n')).not.toContain(typed)
  expect(sent.join('\n')).toContain('"field"')
  expect(await rowsWith(world, TYPED)).toEqual([])
})

test('an element that the page does not have any more is said to be gone, not guessed', async ({ world, page }) => {
  const team = await createTeam(world, 'gone')
  await world.serveDemo({ scriptLine: scriptLine(world.url, team.siteKey) })
  const main = 'body>main:nth-child(2):nth-of-type(1)'
  const click = (visitor: string, element: string, label: string): Happening => ({
    visitor,
    at: Date.now() - 60_000,
    path: '/passes',
    view: { windowWidth: 390 },
    events: [{ type: 'click', at: Date.now() - 59_000, element, label, place: [50, 50], within: [500, 500] }],
  })
  const card = `${main}>div.cards:nth-child(3):nth-of-type(1)>div.card:nth-child(1):nth-of-type(1)>a#choose-hopper.button:nth-child(4):nth-of-type(1)`
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, [
    click('visitor-a', `${card}[href="/passes/island-hopper"]`, 'Choose this pass'),
    click('visitor-b', `${card}[href="/passes/winter"]`, 'Choose another pass'),
    click('visitor-c', `${main}>button#gone:nth-child(9):nth-of-type(1)`, 'Long gone'),
  ])
  await folded(world.database, team.siteId)
  await team.signIn(page, 'editor', 'evidence/heatmap?days=7&of=is:/passes')
  await expect(page.getByTestId('heatmap')).toHaveAttribute('data-drawn', 'yes')
  const gone = (name: RegExp) => row(page, name).getByText('not on the page that is shown')
  await expect(gone(/Long gone/)).toBeVisible()
  // It stands in the same place, but leads elsewhere.
  await expect(gone(/Choose another pass/)).toBeVisible()
  await expect(gone(/Choose this pass/)).toHaveCount(0)

  // A picture that is kept shows the page as it was, whatever becomes of it; the proof of a finding is drawn over one.
  await page.keyboard.press('f')
  const proof = page.getByAltText('The view as it is seen now')
  await expect(proof).toBeVisible()
  await expect(page.getByText('The page itself is blank in it')).toHaveCount(0)
  const [frame, view] = await Promise.all([
    page.getByAltText('The page /passes as it was').boundingBox(),
    page.locator('main').boundingBox(),
  ])
  expect(
    await inks(proof, { x: frame!.x - view!.x, y: frame!.y - view!.y, width: frame!.width, height: 400 }),
  ).toBeGreaterThan(20)
  await page.getByRole('button', { name: 'Cancel' }).click()
  await page.getByLabel('On top of').selectOption({ index: 0 })
  await expect(page).not.toHaveURL(/picture=/)
  const empty = createServer((_, response) => {
    response.setHeader('content-type', 'text/html')
    response.end(`<!doctype html><head>${scriptLine(world.url, team.siteKey)}</head><main>Under construction</main>`)
  })
  await world.serve(empty)
  await page.reload()
  await expect(gone(/Choose this pass/)).toBeVisible()
  await page.getByLabel('On top of').selectOption({ index: 1 })
  await expect(page.getByAltText('The page /passes as it was')).toBeVisible()
  await expect(gone(/Choose this pass/)).toHaveCount(0)
  await expect(gone(/Long gone/)).toBeVisible()
  await expect(page).toHaveURL(/picture=\d+/)
})

/** Number of different colors in a part of a picture, a tenth of it looked at. */
function inks(picture: Locator, part: { x: number; y: number; width: number; height: number }): Promise<number> {
  return picture.evaluate((image, { x, y, width, height }) => {
    const canvas = Object.assign(document.createElement('canvas'), { width, height })
    const context = canvas.getContext('2d')!
    context.drawImage(image as HTMLImageElement, -x, -y)
    const { data } = context.getImageData(0, 0, canvas.width, canvas.height)
    const seen = new Set<number>()
    for (let at = 0; at < data.length; at += 40) seen.add((data[at]! << 16) | (data[at + 1]! << 8) | data[at + 2]!)
    return seen.size
  }, part)
}

test('the filter is in the address and goes along, and a funnel is written, kept, deleted and brought back', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'ways')
  const start = Date.now() - 3_600_000
  const visits = [...Array(30).keys()].flatMap((index): Happening[] => {
    const view = { device: index % 3 ? 'phone' : 'desktop', sessionId: `s-${index}`, windowWidth: 390 }
    const paths = index % 2 ? ['/', '/book', '/book/travelers'] : ['/', '/book']
    return paths.map((path, step) => ({
      visitor: `visitor-${index}`,
      at: start + index * 1000 + step * 90_000,
      path,
      view,
    }))
  })
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, visits)
  await folded(world.database, team.siteId)
  await team.signIn(page, 'editor', 'evidence/pages')
  await expect(page.getByText('30 visitors in 30 sessions')).toBeVisible()
  await page.getByRole('button', { name: 'Choose …' }).click()
  await page.getByLabel('Where').selectOption('Device')
  await page.getByLabel('is', { exact: true }).selectOption('phone')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page).toHaveURL(/segment=device:phone/)
  await expect(page.getByText('20 visitors in 20 sessions')).toBeVisible()
  await expect(row(page, /^\/book\/travelers/)).toContainText('10')

  // Pages are chosen by any rule, in the fields that sheets have, too.
  await page.getByRole('button', { name: 'Advanced' }).click()
  await page.getByLabel('Address', { exact: true }).selectOption('regex')
  await page.getByLabel('Path').fill('^([a-z/]+)+$')
  await page.getByLabel('Path').blur()
  await expect(page.getByRole('alert').first()).toContainText('very long')
  await expect(page.getByLabel('Path')).toHaveValue('^([a-z/]+)+$')
  await page.getByLabel('Path').fill('/travelers$')
  await page.getByLabel('Path').blur()
  await expect(page.getByText('10 visitors in 10 sessions')).toBeVisible()
  await page.reload()
  await expect(page.getByText('10 visitors in 10 sessions')).toBeVisible()
  await page.getByRole('button', { name: 'Advanced' }).click()
  await page.getByRole('button', { name: 'All pages' }).click()
  await expect(page.getByText('20 visitors in 20 sessions')).toBeVisible()

  await page.getByRole('link', { name: 'Funnels' }).click()
  await expect(page).toHaveURL(/segment=device:phone/)
  await page.getByLabel('Path').nth(0).fill('/')
  await page.getByRole('button', { name: 'Show the funnel' }).click()
  await expect(page.getByText('Type an address, such as /crossings/torrin.')).toBeVisible()
  await page.getByLabel('Path').nth(1).fill('/book/travelers')
  await page.getByRole('button', { name: 'Show the funnel' }).click()
  const steps = page.getByTestId('funnel').getByRole('listitem')
  await expect(steps.nth(1)).toContainText('10 sessions, 50.0 % of the first step, 50.0 % of the step before')
  await expect(steps.nth(1)).toContainText('3 min (typically 3 min to 3 min)')
  // The link alone shows the same.
  await page.reload()
  await expect(steps.nth(1)).toContainText('10 sessions')
  await page.getByRole('button', { name: 'Edit the steps' }).click()
  await page.getByLabel('Name', { exact: true }).fill('To the travelers')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page).toHaveURL(/funnel=\d+/)
  await page.getByLabel('Compare with').selectOption('other visitors …')
  await page.getByRole('button', { name: 'Choose …' }).click()
  await page.getByLabel('is', { exact: true }).selectOption('desktop')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(steps.nth(1)).toContainText(
    /device: desktop · 5 sessions, 50.0 % of the first step, 50.0 % of the step before; difference of the first step .0.0 pp, 95 % interval −\d+\.\d to \+\d+\.\d/,
  )
  await expect(steps.nth(1)).toContainText('device: phone · 10 sessions, 50.0 % of the first step')
  // Another one is begun beside it, and given up.
  await page.getByRole('button', { name: 'New funnel', exact: true }).click()
  await expect(page.getByLabel('Path').nth(1)).toHaveValue('')
  await page.reload()
  await expect(page.getByLabel('Path').nth(1)).toHaveValue('')
  await page.getByRole('link', { name: 'To the travelers' }).click()
  await page.getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByRole('link', { name: 'To the travelers' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('link', { name: 'To the travelers' })).toBeVisible()
})

test('owners choose what is collected; others see it, and what is wrong is said at its field', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'collection')
  await team.signIn(page, 'owner', 'setup/collection')
  await expect(page.getByText('Not collected.')).toHaveCount(2)
  await page.getByLabel('Share of the visitors', { exact: true }).fill('140')
  await page.getByLabel('Path').first().fill('book')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('A share is at most 100 %.').first()).toBeVisible()
  await expect(page.getByText('Begin the address with a slash').first()).toBeVisible()
  await expect(page.getByLabel('Share of the visitors', { exact: true })).toHaveValue('140')
  await page.getByLabel('Share of the visitors', { exact: true }).fill('25')
  await page.getByLabel('Path').first().fill('/book')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Of 25.00 % of them, on addresses that begin with /book.')).toBeVisible()
  await team.signIn(page, 'viewer', 'setup/collection')
  await expect(page.getByText('Only owners change these.')).toBeVisible()
  await expect(page.getByLabel('Share of the visitors', { exact: true })).toBeDisabled()
})
