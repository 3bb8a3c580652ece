import { expect } from '@playwright/test'
import { HOUR } from '../../core/time/units'
import { dayAfter } from '../../core/time/siteDay'
import { folded, happen, type Happening } from '../arrivals'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './team'
import { test } from './world'

test('a note says what happened on a day, and how a metric stood before and after it', async ({
  world,
  page,
  browser,
}) => {
  const team = await createTeam(world, 'history')
  const today = new Date().toISOString().slice(0, 10)
  const day = dayAfter(today, -28)
  const noon = (away: number) => Date.parse(`${dayAfter(day, away)}T12:00:00Z`)
  // Every day four come; one of them books before the day, two from then on.
  const visits = Array.from({ length: 29 + 27 }, (_, index) => index - 28).flatMap((away) =>
    Array.from({ length: 4 }, (__, visitor): Happening => {
      const at = noon(away) + visitor * HOUR
      const books = visitor < (away < 0 ? 1 : 2)
      return {
        visitor: `v${away}-${visitor}`,
        at,
        path: '/',
        events: books ? [{ at: at + 1000, type: 'custom', name: 'order' }] : [],
      }
    }),
  )
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, visits)
  await folded(world.database, team.siteId)
  const started = Date.parse(`${dayAfter(day, 7)}T08:00:00Z`)
  const metric = primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' })
  await startedExperiment(world.database, team.siteId, started, metric)

  const span = `from=${dayAfter(day, -28)}&to=${today}`
  await team.signIn(page, 'editor', `evidence/visitors?${span}`)
  await page.getByLabel('Metric').selectOption({ label: 'Booked' })
  await page.getByLabel('Show').selectOption({ label: 'Conversion rate' })
  await expect(page.getByTestId('mark')).toHaveText(/experiment started:\s*Started started/)

  // What is missing says so, and what was typed stays.
  await page.getByRole('button', { name: 'Add a note …' }).click()
  const words = page.getByRole('textbox', { name: 'What happened' })
  await words.fill('Prices <b>fell</b>')
  await page.getByRole('button', { name: 'Save the note' }).click()
  await expect(page.getByText('Say on which day.').first()).toBeVisible()
  await expect(words).toHaveValue('Prices <b>fell</b>')
  await page.getByLabel('On the day').fill(day)
  await page.getByRole('button', { name: 'Save the note' }).click()

  const note = page.getByTestId('mark').filter({ hasText: 'Prices <b>fell</b>' })
  await note.getByRole('button', { name: /^Before and after/ }).click()
  const around = page.getByTestId('around')
  await expect(around).toContainText('Conversion rate: 25.0 % on the 28 days before, 50.0 % on the 27 days after')
  await expect(around).toContainText('+100.0 % (+100.0 % to +100.0 %)')
  await expect(around).toContainText('it is no proof')

  // The link shows whoever may look the same, and lets them change nothing.
  const other = await (await browser.newContext()).newPage()
  await team.signIn(other, 'viewer', `evidence/visitors${new URL(page.url()).search}`)
  await expect(other.getByTestId('around')).toContainText('+100.0 %')
  await expect(other.getByRole('button', { name: 'Add a note …' })).toHaveCount(0)
  await expect(other.getByRole('button', { name: /^Delete the note/ })).toHaveCount(0)
  await other.context().close()

  await note.getByRole('button', { name: 'Change the note' }).click()
  await page.getByRole('textbox', { name: 'What happened' }).fill('Prices fell')
  await page.getByRole('button', { name: 'Save the note' }).click()
  const changed = page.getByTestId('mark').filter({ hasText: 'Prices fell' })
  await changed.getByRole('button', { name: 'Delete the note' }).click()
  await expect(changed).toHaveCount(0)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(changed).toBeVisible()

  await page.getByLabel('Kind').selectOption({ label: 'note' })
  await expect(page.getByTestId('mark')).toHaveCount(1)
  await changed.getByRole('button', { name: /^Before and after/ }).press('Enter')
  await expect(around).toContainText('+100.0 %')

  // Split, each line says so by itself; by month everybody counts once in each, and a day is read by its days.
  await page.getByLabel('Split by').selectOption({ label: 'Device' })
  await expect(around).toContainText('desktop: 25.0 % on the 28 days before, 50.0 % on the 27 days after')
  await page.getByLabel('Split by').selectOption({ label: 'nothing' })
  await page.getByRole('radio', { name: 'month' }).click()
  await expect(around).toContainText('Conversion rate: 25.0 % on the 28 days before, 50.0 % on the 27 days after')
  await page.getByLabel('Show').selectOption({ label: 'Visitors' })
  await page.getByRole('button', { name: 'Table: Visitors a month' }).click()
  const cells = await page.getByRole('table').getByRole('cell').allTextContents()
  const counts = cells.filter((text) => /^\d+$/.test(text.trim())).map(Number)
  expect(counts.reduce((sum, count) => sum + count, 0)).toBe(visits.length)
  const days = [...visits.map(({ at }) => new Date(at).toISOString()), today]
  expect(counts.length).toBe(new Set(days.map((each) => each.slice(0, 7))).size)
})
