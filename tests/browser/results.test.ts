import { expect, type Page } from '@playwright/test'
import { eq } from 'drizzle-orm'
import { experiment } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam, saved, type Team } from './team'
import { test, type World } from './world'
import { DAY } from '../../core/time/units'

const DAYS = 20
const START = Date.now() - DAYS * DAY
let prepared: Promise<Team & { experimentId: number; draftId: number }> | undefined

/** An experiment with three arms and metrics of every kind and role, 20 days old, and a draft. */
function prepare(world: World) {
  prepared ??= (async () => {
    const { database } = world
    const team = await createTeam(world, 'results')
    const order = { type: 'event', name: 'order' } as const
    const { id: experimentId } = await createExperiment(database, team.siteId, null, 'Three arms')
    const target = { siteId: team.siteId, experimentId, personId: null }
    const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
    await fillSheet(database, target, {
      pageRules: [{ match: 'exact', value: '/' }],
      plan: { ...PLAN, plannedVisitors: 1500 },
      variants: [
        { name: 'Control', weight: 1, edits: [] },
        { name: 'Warm', weight: 1, edits: [edit] },
        { name: 'Loud', weight: 1, edits: [edit] },
      ],
      metrics: [
        primaryMetric('Orders', 'conversion', order),
        primaryMetric('Order value', 'mean', order, { role: 'secondary' }),
        primaryMetric('Value per view', 'ratio', order, {
          role: 'secondary',
          denominator: { type: 'visit', page: { match: 'exact', value: '/' } },
        }),
        primaryMetric(
          'Complaints',
          'conversion',
          { type: 'event', name: 'complaint' },
          { role: 'guardrail', direction: 'down', limit: 0.5 },
        ),
      ],
    })
    await moveExperiment(database, target, 'start')
    await database
      .update(experiment)
      .set({ startedAt: new Date(START) })
      .where(eq(experiment.id, experimentId))
    await happen(database, { id: team.siteId, address: team.siteAddress }, [...visitors(experimentId)].flat())
    await folded(database, team.siteId)
    const { id: draftId } = await createExperiment(database, team.siteId, null, 'A draft')
    return { ...team, experimentId, draftId }
  })()
  return prepared
}

/** 1,500 visitors over the days: every tenth of the control orders, every fifth of Warm, every tenth of Loud. */
function* visitors(experiment: number): Generator<Happening[]> {
  const ORDERS = [10, 5, 10]
  for (let index = 0; index < 1500; index++) {
    const variant = index % 3
    const turn = Math.floor(index / 3)
    const at = START + ((turn * 17) % (DAYS * 23)) * 3_600_000
    const visitor = `visitor-${index}`
    yield [
      { visitor, at, type: 'exposure', experiment, variant },
      { visitor, at },
      ...(turn % ORDERS[variant]! === 0
        ? [{ visitor, at: at + 60_000, type: 'custom', name: 'order', amount: 20 + (turn % 7) } as const]
        : []),
      ...(turn % 12 === 0 ? [{ visitor, at: at + 90_000, type: 'custom', name: 'complaint' } as const] : []),
    ]
  }
}

async function openSheet(page: Page, world: World, which: 'experimentId' | 'draftId', query = '') {
  const prepared = await prepare(world)
  await prepared.signIn(page, 'editor', `experiments/${prepared[which]}${query}`)
  return prepared
}

test('a sheet shows every metric in its role, and says what to do', async ({ page, world }) => {
  await openSheet(page, world, 'experimentId')
  await expect(page.getByTestId('verdict')).toContainText('Ship “Warm”')
  await expect(page.getByTestId('comparison')).toHaveCount(2)
  const guardrails = page.getByTestId('guardrails')
  await expect(guardrails).toContainText('less is better; at most 50 % worse is accepted')
  await expect(guardrails).not.toContainText('beyond its limit')
  const secondary = page.getByTestId('secondary-metrics')
  await expect(secondary.getByRole('row')).toHaveCount(7)
  await secondary.getByRole('button', { name: /Value per view/ }).click()
  const arms = page.getByRole('table', { name: 'Value per view' })
  // 50 orders of 20 to 26 by 500 visitors with one view each.
  await expect(arms.getByRole('row').nth(1).getByRole('cell')).toContainText([
    'Control',
    '500',
    '€1,147.00',
    '500',
    '€2.29',
  ])
  await expect(page.getByTestId('allocation')).toContainText('The split is as it was set.')
})

test('the method is a click away, in the address, and kept by a shared link', async ({ page, world }) => {
  await openSheet(page, world, 'experimentId')
  const first = page.getByTestId('comparison').first()
  const sequential = await first.getByRole('img').getAttribute('aria-label')
  await page.getByRole('radio', { name: 'Fixed' }).click()
  await expect(page).toHaveURL(/method=fixed/)
  await expect(first.getByRole('img')).not.toHaveAttribute('aria-label', sequential!)
  await expect(page.getByTestId('secondary-metrics')).toContainText('adjusted')
  await page.getByRole('radio', { name: 'Fixed' }).press('ArrowRight')
  await expect(page).toHaveURL(/method=bayesian/)
  await page.reload()
  await expect(first).toContainText('Chance of being better')
  await expect(first).toContainText('Expected loss')
})

test('a variant’s visitors are a click away in each view of Evidence, beside those of the control', async ({
  page,
  world,
}) => {
  const team = await openSheet(page, world, 'experimentId')
  await page.getByRole('link', { name: 'Forms, Warm' }).click()
  await expect(page).toHaveURL(/\/evidence\/forms\?/)
  const { searchParams } = new URL(page.url())
  expect(Object.fromEntries(searchParams)).toMatchObject({
    segment: `variant:${team.experimentId}.1`,
    compare: `variant:${team.experimentId}.0`,
    from: expect.stringMatching(/^\d{4}-\d\d-\d\d$/),
  })
  await page.goBack()
  await page.getByRole('link', { name: 'Heatmap, Warm' }).click()
  await expect(page.getByRole('heading', { name: /^saw Warm of / })).toBeVisible()
  await expect(page.getByRole('heading', { name: /^saw Control of / })).toBeVisible()
})

test('every number opens to its definition, inputs and formula, and closes with Escape', async ({ page, world }) => {
  await openSheet(page, world, 'experimentId')
  const numbers = page.locator('#results').getByTitle('How do you know?')
  await expect(numbers.first()).toBeVisible()
  const count = await numbers.count()
  expect(count).toBeGreaterThan(30)
  const dialog = page.getByTestId('explanation')
  for (let index = 0; index < count; index += 5) {
    await numbers.nth(index).click()
    await expect(dialog.locator('code')).not.toBeEmpty()
    await expect(dialog).not.toContainText(/NaN|undefined|null|Infinity/)
    await page.keyboard.press('Escape')
    await expect(dialog).toBeHidden()
  }
  await page.getByTestId('arms').getByRole('row').nth(2).getByTitle('How do you know?').nth(2).click()
  await expect(dialog).toContainText('20.00 %')
  await expect(dialog).toContainText('p = conversions / visitors')
  await dialog.getByText('The statement that reads it').click()
  await expect(dialog.getByLabel('Statement')).toContainText('LEFT JOIN statistic')
})

test('results are exported with every metric and method', async ({ page, world }) => {
  await openSheet(page, world, 'experimentId')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export CSV' }).click(),
  ])
  const lines = (await (await download.createReadStream()).toArray()).join('').trim().split('\n')
  expect(lines).toHaveLength(1 + 4 * 3)
  expect(lines[0]).toContain('lift_low_credible')
  expect(lines[2]).toMatch(/^Orders,primary,conversion,Warm,500,100,,0\.2,/)
})

test('a running sheet is read: sentences and drawings, and what may still change opens in place', async ({
  page,
  world,
}) => {
  await openSheet(page, world, 'experimentId')
  await expect(page.locator('#decided')).toContainText('A lift of +5.0 % or more in Orders is worth having')
  await expect(page.locator('#decided').getByRole('img')).toHaveAttribute('aria-label', /Has run 21 of at most/)
  await expect(page.locator('#who')).toContainText('All visitors of /.')
  await expect(page.locator('#who').getByRole('img')).toHaveAttribute('aria-label', /Control 33\.33 %, Warm 33\.33 %/)
  await expect(page.locator('#measured')).toContainText('Complaints, guardrail; less is better, and at most 50 % worse')
  await expect(page.locator('main').locator(':disabled:not(button)')).toHaveCount(0)
  await expect(page.locator('#why textarea')).toHaveCount(0)
  await page.getByRole('button', { name: 'Edit the hypothesis' }).click()
  await page.locator('#why textarea').fill('Because they said so.')
  await page.locator('#why textarea').blur()
  await saved(page)
  await page.reload()
  await expect(page.locator('#why')).toContainText('Because they said so.')
})

test('lifts over time and within segments are drawn, opened as tables, downloaded and shared', async ({
  page,
  world,
}) => {
  await openSheet(page, world, 'experimentId')
  const overTime = page.getByTestId('over-time')
  const chart = overTime.getByRole('figure').first()
  await expect(chart.getByRole('img').locator('svg')).toBeVisible()
  await chart.getByRole('radio', { name: 'Each day alone' }).click()
  await overTime.getByRole('radio', { name: 'Loud' }).click()
  await overTime.getByLabel('Metric').selectOption({ label: 'Order value' })
  // Choices that come one upon the other are all kept.
  await expect(page).toHaveURL(/(?=.*lift=by-day)(?=.*variant=)(?=.*metric=)/)
  await page.reload()
  await expect(chart).toContainText('Lift of Loud')
  await expect(overTime.getByLabel('Metric').locator('option:checked')).toHaveText('Order value')
  await chart.getByRole('button', { name: /^Table/ }).click()
  const rows = chart.getByRole('table').getByRole('row')
  expect(await rows.count()).toBeGreaterThan(15)
  await chart.getByRole('button', { name: /^Day/ }).click()
  await chart.getByRole('button', { name: /^Day/ }).click()
  const days = await chart.getByRole('row').locator('td:first-child').allTextContents()
  expect(days).toEqual([...days].sort().reverse())
  const downloaded = async (name: RegExp) => {
    const [download] = await Promise.all([page.waitForEvent('download'), chart.getByRole('button', { name }).click()])
    return Buffer.concat(await (await download.createReadStream()).toArray())
  }
  expect((await downloaded(/^CSV/)).toString()).toContain('Day,Lift,Interval from,Interval to')
  expect((await downloaded(/^SVG/)).toString()).toMatch(/^<svg .*viewBox/)
  expect((await downloaded(/^PNG/)).subarray(1, 4).toString()).toBe('PNG')
  await overTime.getByRole('radio', { name: 'Country' }).click()
  await expect(page).toHaveURL(/segment=country/)
  const segments = overTime.getByRole('table', { name: 'Order value by country' })
  await expect(segments.getByRole('row').nth(1)).toContainText('IE')
  await expect(overTime.getByTestId('heterogeneity')).toContainText('Fewer than two segments')
  await overTime.getByRole('radio', { name: 'Week of the run' }).click()
  await expect(page).toHaveURL(/segment=week/)
  const weeks = overTime.getByRole('table', { name: 'Order value by week of the run' })
  await expect(weeks.getByRole('row').nth(1)).toContainText('week 1')
  await expect(overTime.getByTestId('trend')).toContainText(
    /^ ?(No sign that the lift rises or falls|The lift (rises|falls)) from week to week/,
  )
  await overTime.getByRole('radio', { name: 'Country' }).click()
  await expect(overTime.getByTestId('trend')).toHaveCount(0)
  await overTime.getByRole('button', { name: /^Choose columns/ }).click()
  await page.getByRole('checkbox', { name: 'Interval from' }).check()
  await expect(segments.getByRole('columnheader', { name: 'Interval from' })).toBeVisible()
})

test('numbers that must not be trusted are struck through', async ({ page, world }) => {
  const prepared = await prepare(world)
  const split = await startedExperiment(
    world.database,
    prepared.siteId,
    START,
    primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' }),
  )
  const happenings = [...Array(400).keys()].map((index): Happening => {
    const at = START + (index % 18) * DAY + 3_600_000
    return { visitor: `crooked-${index}`, at, type: 'exposure', experiment: split, variant: index % 5 === 0 ? 1 : 0 }
  })
  await happen(world.database, { id: prepared.siteId, address: prepared.siteAddress }, happenings)
  await folded(world.database, prepared.siteId)
  await prepared.signIn(page, 'editor', `experiments/${split}`)
  await expect(page.getByTestId('verdict')).toContainText('Don’t trust these numbers')
  const number = page.getByTestId('arms').getByTitle('How do you know?').first()
  await expect(number).toHaveCSS('text-decoration-line', 'line-through')
})

test('a run that leads nowhere says so, below the chance that its plan was given', async ({ page, world }) => {
  const { siteId, siteAddress, signIn, draftId } = await prepare(world)
  const order = { type: 'event', name: 'order' } as const
  const id = await startedExperiment(world.database, siteId, START, primaryMetric('Orders', 'conversion', order))
  await world.database
    .update(experiment)
    .set({ plan: { ...PLAN, plannedVisitors: 1500, leastChance: 0.5 } })
    .where(eq(experiment.id, id))
  const come = Array.from({ length: 800 }, (_, index): Happening[] => {
    const [visitor, variant] = [`same-${index}`, index % 2]
    const at = START + ((index * 29) % (DAYS * 24)) * 3_600_000
    const exposed: Happening = { visitor, at, type: 'exposure', experiment: id, variant }
    const isOrder = index % 20 < 2
    return isOrder ? [exposed, { visitor, at: at + 60_000, type: 'custom', name: 'order', amount: 20 }] : [exposed]
  })
  await happen(world.database, { id: siteId, address: siteAddress }, come.flat())
  await folded(world.database, siteId)
  await signIn(page, 'editor', `experiments/${id}`)
  await expect(page.getByTestId('verdict')).toContainText('Keep running')
  const outlook = page.getByTestId('outlook')
  await expect(outlook).toContainText('The plan advises to stop: the chance is below 50 %.')
  await expect(outlook).toContainText('if the lift is what it looks like now')
  await expect(page.getByText('Advises to stop once the chance to still end with Ship is below 50 %.')).toBeVisible()

  await page.goto(`${world.url}/sites/${siteId}/experiments/${draftId}`)
  const least = page.getByLabel('Advise to stop below')
  await expect(least).toHaveValue('10')
  await least.fill('120')
  await page.keyboard.press('Tab')
  await expect(page.getByText('The chance lies between 0 % and 100 %.')).toBeVisible()
  await expect(least).toHaveValue('120')
  await least.fill('')
  await page.keyboard.press('Tab')
  await saved(page)
  await page.reload()
  await expect(least).toHaveValue('')
})

test('metrics of every role are added, changed and removed on a draft, and removing can be undone', async ({
  page,
  world,
}) => {
  await openSheet(page, world, 'draftId')
  const measured = page.locator('#measured')
  await measured.getByLabel('Name').fill('Orders')
  await measured.getByLabel('Path').fill('/book/done')
  await measured.getByLabel('Path').blur()
  await measured.getByRole('button', { name: 'Add a metric' }).click()
  await page.getByRole('button', { name: 'Write a new one' }).click()
  await measured.getByLabel('Name').fill('Clicks per view')
  await measured.getByLabel('Counts').selectOption('click')
  await measured.getByLabel('Element').fill('#book')
  await measured.getByLabel('A visitor’s value').selectOption('ratio')
  await measured.getByLabel('Path').fill('no slash')
  await measured.getByLabel('Path').blur()
  await expect(measured).toContainText('Begin the address with a slash')
  await measured.getByLabel('Path').fill('/crossings')
  await measured.getByLabel('Role').selectOption('guardrail')
  await measured.getByLabel('Harm from').fill('3')
  await measured.getByLabel('Harm from').blur()
  await saved(page)
  await page.reload()
  await expect(measured.getByRole('listitem')).toHaveCount(2)
  await expect(measured.getByRole('listitem').nth(1)).toContainText('Clicks per view, guardrail')
  await expect(measured.getByRole('listitem').nth(1)).toContainText('divided by visits of /crossings')
  await measured.getByRole('button', { name: 'Remove Clicks per view' }).click()
  await expect(measured.getByRole('listitem')).toHaveCount(1)
  await page.getByRole('button', { name: /^Undo: / }).click()
  await saved(page)
  await expect(measured.getByRole('listitem')).toHaveCount(2)
  await page.reload()
  await expect(measured.getByRole('listitem')).toHaveCount(2)
})

test('a plan is rehearsed in the background, told apart from a changed one, and can be canceled', async ({
  page,
  world,
}) => {
  await openSheet(page, world, 'draftId')
  const rehearsal = page.getByTestId('rehearsal')
  const decided = page.locator('#decided')
  for (const [label, value] of [
    ['Smallest worthwhile lift', '20'],
    ['Expected rate of the control', '5'],
    ['Planned visitors', '20000'],
  ] as const) {
    await decided.getByLabel(label).fill(value)
    await decided.getByLabel(label).blur()
  }
  await expect(decided).toContainText('show a lift of 20 % in')
  await rehearsal.getByLabel('New visitors a day').fill('3000')
  await rehearsal.getByRole('button', { name: 'Rehearse this plan' }).click()
  const rows = rehearsal.getByRole('row')
  await expect(rows).toHaveCount(5, { timeout: 180_000 })
  await expect(rows.nth(4).getByRole('cell').first()).toHaveText('+40.0 %')
  await expect(rows.nth(4).getByRole('cell').nth(1)).toHaveText(/(100|99)\.\d %/)
  await rehearsal.getByRole('button', { name: 'Compare rules' }).click()
  await expect(rows).toHaveCount(17, { timeout: 180_000 })
  const compared = await rehearsal
    .getByRole('cell', { name: /^(planned end|sequential|fixed|low risk)$/ })
    .allTextContents()
  expect(compared.slice(0, 4)).toEqual(['planned end', 'sequential', 'fixed', 'low risk'])
  await rehearsal.getByLabel('New visitors a day').fill('30')
  await expect(rehearsal).toContainText('The plan has changed since')
  await rehearsal.getByLabel('New visitors a day').fill('900000')
  await rehearsal.getByRole('button', { name: 'Rehearse this plan' }).click()
  // Told the button itself: a pointer would wait until the page stands still, and the rehearsal be over by then.
  await rehearsal.getByRole('button', { name: 'Cancel' }).dispatchEvent('click')
  await expect(rehearsal.getByRole('button', { name: 'Rehearse this plan' })).toBeVisible()
})
