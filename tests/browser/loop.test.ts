import { expect } from '@playwright/test'
import { book, headlinesSeen, newVisitor, reported } from './visitor'
import { test } from './world'

const OLD = 'Three islands, one small harbor'
const NEW = 'Sail to an island today'
const VISITORS = 60
const RETURNING_EVERY = 2
const BOOKING_EVERY = 4
const AT_A_TIME = 6

test('from a hunch to exact counts: an A/B test with sixty real visitors', async ({ world, page, browser }) => {
  const { url, demoOrigin } = world
  let line = ''
  let snippet = ''

  await test.step('the first person creates the owner, signs out and in again', async () => {
    await page.goto(url)
    await page.getByLabel('Your name').fill('Mara Quill')
    await page.getByLabel('Organization').fill('Kittiwake Crossings')
    await page.getByLabel('E-mail address').fill('mara@kittiwake.example')
    await page.getByLabel('Password').fill('short')
    await page.getByRole('button', { name: 'Create the owner' }).click()
    await expect(page.getByText('Use at least 12 characters.')).toBeVisible()
    await expect(page.getByLabel('Your name')).toHaveValue('Mara Quill')
    await page.getByLabel('Password').fill('a-long-enough-password')
    await page.getByRole('button', { name: 'Create the owner' }).click()
    await page.getByRole('button', { name: 'Sign out' }).click()
    await page.getByLabel('E-mail address').fill('mara@kittiwake.example')
    await page.getByLabel('Password').fill('not the password')
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(page.getByText('do not belong together')).toBeVisible()
    await page.getByLabel('Password').fill('a-long-enough-password')
    await page.getByRole('button', { name: 'Sign in' }).click()
  })

  await test.step('a site is added, its line put on the pages, and the installation checked', async () => {
    await page.getByLabel('Address', { exact: true }).fill(demoOrigin)
    await page.getByLabel('Name').fill('Kittiwake Crossings')
    await page.getByRole('button', { name: 'Add the site' }).click()
    line = await page.getByTestId('script-line').innerText()
    await world.serveDemo({ scriptLine: '' })
    await page.getByRole('button', { name: 'Check', exact: true }).click()
    await expect(page.getByText('The script line is not on this page.')).toBeVisible()

    // A busy test machine may take longer than a real visitor is made to wait.
    await world.serveDemo({ scriptLine: line.replace('1.5s', '30s') })
    await page.getByRole('button', { name: 'Check', exact: true }).click()
    const report = page.getByTestId('installation-report')
    await expect(report.getByText('✓ in place')).toHaveCount(1)
    await page.getByRole('button', { name: 'Check up to 20 pages' }).click()
    await expect(report.getByText(/^Found on (?:1\d|20) of (?:1\d|20) pages\./)).toBeVisible()
    await expect(report.getByText('Looking at more …')).toHaveCount(0)
    // All of them, and pages of each kind among them.
    for (const path of ['/', '/crossings/torrin', '/timetable', '/help', '/book'])
      await expect(report.getByRole('cell', { name: path, exact: true })).toBeVisible()
    const count = await report.getByRole('row').count()
    await expect(report.getByText('✓ in place')).toHaveCount(count - 1)
    await expect(page.getByText('No visitor has reported yet.')).toBeVisible()

    const first = await newVisitor(browser)
    expect(await headlinesSeen(await first.newPage(), demoOrigin)).toEqual([OLD])
    await expect(page.getByText('A visitor reported first')).toBeVisible()
    await first.close()
  })

  await test.step('an experiment is drafted on its sheet', async () => {
    await page.getByRole('link', { name: 'Experiments' }).click()
    await page.getByRole('button', { name: 'New experiment' }).click()
    await page.getByLabel('Name').fill('Headline asks to sail today')
    await page.getByRole('button', { name: 'Create' }).click()
    await expect(page.getByRole('button', { name: 'Start' })).toBeDisabled()
    const who = page.locator('#who')
    await who.getByLabel('Path').fill('no slash')
    await who.getByLabel('Path').blur()
    await expect(who.getByText('Begin the address with a slash')).toBeVisible()
    await who.getByLabel('Path').fill('/')
    await who.getByLabel('Path').blur()
    const measured = page.locator('#measured')
    await measured.getByLabel('Path').fill('/')
    await measured.getByLabel('Name').fill('Bookings')
    await measured.getByLabel('Name').blur()
    await expect(page.getByText('so every visitor would convert')).toBeVisible()
    await measured.getByLabel('Path').fill('/book/done')
    await measured.getByLabel('Path').blur()
    await expect(page.getByText('so every visitor would convert')).toBeHidden()
    await expect(page.getByText('Say how many visitors the run is planned for.').first()).toBeVisible()
    await page.getByLabel('Planned visitors').fill('20000')
    await page.getByLabel('Planned visitors').blur()
  })

  await test.step('its headline is pointed at and changed, undone, and changed again', async () => {
    await page.getByRole('link', { name: 'Point at the page' }).click()
    const frame = page.frameLocator('iframe')
    const headline = frame.locator('h1')
    await expect(page.getByText('Click an element or use')).toBeVisible()
    await headline.click()
    await expect(page.getByLabel('New text')).toHaveValue(OLD)
    await page.getByLabel('New text').fill(NEW)
    await page.getByRole('button', { name: 'Save the text' }).click()
    await expect(headline).toHaveText(NEW)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect(headline).toHaveText(OLD)
    await headline.click()
    await expect(page.getByLabel('New text')).toHaveValue(OLD)
    await page.getByLabel('New text').fill(NEW)
    await page.getByRole('button', { name: 'Save the text' }).click()
    await expect(headline).toHaveText(NEW)
    await page.getByRole('button', { name: 'Back to the sheet' }).click()
    await expect(page.locator('#what').getByText(NEW)).toBeVisible()
  })

  await test.step('it starts, and its variants are frozen', async () => {
    await page.getByRole('button', { name: 'Start …' }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Start' }).click()
    await expect(page.getByText('Started. Visitors get it within 10 seconds.')).toBeVisible()
    await expect(page.getByLabel('Name of variant B')).toHaveCount(0)
    await expect(page.locator('#what')).toContainText(NEW)
    await expect(page.getByTestId('verdict')).toContainText('Too early to say')
    snippet = /http[^"]+\.js/.exec(line)![0]
    await expect.poll(async () => (await fetch(snippet)).text()).toContain(NEW)
  })

  const seen: Record<string, { visitors: number; booked: number }> = {
    [OLD]: { visitors: 0, booked: 0 },
    [NEW]: { visitors: 0, booked: 0 },
  }
  await test.step('sixty visitors come, see one variant each, half of them again on return, and some book', async () => {
    for (let first = 0; first < VISITORS; first += AT_A_TIME) {
      await Promise.all(
        [...Array(AT_A_TIME)].map(async (_, offset) => {
          const visitor = await newVisitor(browser)
          const tab = await visitor.newPage()
          const headlines = await headlinesSeen(tab, demoOrigin)
          expect(headlines).toHaveLength(1)
          const arm = seen[headlines[0]!]
          expect(arm).toBeDefined()
          arm!.visitors++
          await reported(tab)
          await tab.close()
          const number = first + offset
          if (number % RETURNING_EVERY === 0) {
            const again = await visitor.newPage()
            expect(await headlinesSeen(again, `${demoOrigin}/?again`)).toEqual(headlines)
            if (number % BOOKING_EVERY === 0) {
              expect(await book(again, demoOrigin)).toBe('€ 37.50')
              arm!.booked++
            }
            await reported(again)
          }
          await visitor.close()
        }),
      )
    }
    expect(seen[OLD]!.visitors).toBeGreaterThan(10)
    expect(seen[NEW]!.visitors).toBeGreaterThan(10)
  })

  await test.step('the sheet shows exactly what they did', async () => {
    const row = (name: string) => page.getByTestId('arms').getByRole('row').filter({ hasText: name }).getByRole('cell')
    await expect(row('Control').nth(1)).toHaveText(String(seen[OLD]!.visitors))
    await expect(row('Control').nth(2)).toHaveText(String(seen[OLD]!.booked))
    await expect(row('Variant B').nth(1)).toHaveText(String(seen[NEW]!.visitors))
    await expect(row('Variant B').nth(2)).toHaveText(String(seen[NEW]!.booked))
    await expect(page.getByTestId('allocation')).toContainText('The split is as it was set.')
    await page.getByText('Change log').click()
    await expect(page.getByText(/Mara Quill ·\s+started/)).toBeVisible()
  })

  await test.step('ended, everybody sees the original', async () => {
    await page.getByRole('button', { name: 'End …' }).click()
    const end = page.getByRole('dialog').getByRole('button', { name: 'End', exact: true })
    await page.getByRole('radio', { name: 'No decision' }).check()
    await end.click()
    await expect(page.getByText('Say why, for those who come back to it.')).toBeVisible()
    await page.getByRole('radio', { name: 'Variant B' }).check()
    await page.getByRole('radio', { name: 'the original, until the site itself is changed' }).check()
    await page.getByRole('textbox', { name: 'Why' }).fill('Sixty visitors liked it.')
    await end.click()
    await expect(page.getByTestId('decision')).toContainText('Variant B is kept')
    await expect(page.getByTestId('decision')).toContainText('Sixty visitors liked it.')
    await expect(page.getByText('Ended. Everybody sees the original.')).toBeVisible()
    await expect.poll(async () => (await fetch(snippet)).text()).not.toContain(NEW)
    for (let index = 0; index < 4; index++) {
      const visitor = await newVisitor(browser)
      expect(await headlinesSeen(await visitor.newPage(), demoOrigin)).toEqual([OLD])
      await visitor.close()
    }
  })
})
