import { readFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { eq, sql } from 'drizzle-orm'
import { experiment, hypothesis, metric, metricVersion } from '../../server/database/schema'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { moveExperiment } from '../../server/services/experiments/experiments'
import { createHypothesis } from '../../server/services/hypotheses/hypotheses'
import { setStage } from '../../server/services/hypotheses/stages'
import { hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { folded, happen, type Happening } from '../arrivals'
import { createTeam, type Team } from './team'
import { test, type World } from './world'
import { DAY } from '../../core/time/units'

/** A metric of the site: visits to the last page of the booking. */
async function addMetric({ database }: World, { siteId }: Team): Promise<string> {
  const id = `bookings-${siteId}`
  await database.insert(metric).values({ id, siteId, name: 'Bookings' })
  const source = { type: 'visit', page: { match: 'exact', value: '/book/done' } } as const
  await database.insert(metricVersion).values({ siteId, metricId: id, version: 1, kind: 'conversion', source })
  return id
}

/** Visitors of /book on phones, every fifth of whom books; and as many elsewhere. */
async function addVisitors({ database }: World, { siteId, siteAddress }: Team): Promise<void> {
  const happenings = Array.from({ length: 120 }, (_, index): Happening[] => {
    const at = Date.now() - (2 + (index % 20)) * DAY - index * 1000
    const view = { sessionId: `session-${index}`, device: index % 3 === 0 ? 'phone' : 'desktop' }
    const visitor = `visitor-${index}`
    const booked = { visitor, at: at + 60_000, path: '/book/done', view }
    return [{ visitor, at, path: '/book', view }, ...(index % 5 === 0 ? [booked] : [])]
  })
  await happen(database, { id: siteId, address: siteAddress }, happenings.flat())
  await folded(database, siteId)
}

const write = ({ database }: World, { siteId }: Team, fields: object) =>
  createHypothesis(database, { siteId, personId: null }, hypothesisSchema.validateSync(fields))
const row = (page: Page, name: string | RegExp) => page.getByRole('row', { name })

test('from a finding to a hypothesis to an experiment, with reach and rate as the report of pages has them, and back', async ({
  page,
  world,
}) => {
  const team = await createTeam(world, 'ideas')
  const { siteId } = team
  const { database, url } = world
  const bookings = await addMetric(world, team)
  await addVisitors(world, team)
  const old = await write(world, team, { title: 'Length of the vehicle in steps', metric: bookings })
  await setStage(
    database,
    { siteId, hypothesisId: old.id, personId: null },
    { stage: 'set aside', reason: 'No days left.' },
  )

  await team.signIn(page, 'editor', 'evidence/findings')
  await page.getByRole('button', { name: 'Write a finding' }).click()
  await page.getByLabel('What was found').fill('Phones leave at the length of the vehicle')
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('navigation', { name: 'Thread' })).toContainText('no hypothesis yet')
  await page.getByRole('link', { name: 'Findings' }).click()
  await page.getByLabel('Choose Phones leave at the length of the vehicle').check()
  await page.getByRole('button', { name: 'Write a hypothesis' }).click()

  // While one types, the archive answers, and what is known is computed.
  await page.getByLabel('Title').fill('Vehicle sizes in place of lengths')
  const similar = page.getByRole('region', { name: 'Similar ideas' })
  await expect(similar).toContainText('Length of the vehicle in steps')
  await expect(similar).toContainText('set aside: No days left.')
  await page.getByLabel('We expect that').fill('Three sizes to choose from')
  await page.getByLabel('How the address is compared').selectOption('exact')
  await page.getByLabel('On pages whose address').fill('/book')
  await page.getByRole('button', { name: 'Choose …' }).click()
  await page.getByLabel('Where').selectOption('Device')
  await page.getByLabel('is', { exact: true }).selectOption('phone')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await page.getByLabel('Metric').selectOption('Bookings')
  await page.getByLabel('Because', { exact: true }).fill('Nobody has a tape measure at hand.')
  const worth = page.getByTestId('assessment')
  await expect(worth).toContainText('10 visitors a week, 40 in the last four weeks')
  await expect(worth).toContainText('20.00 % of them')
  await expect(page.getByTestId('statement')).toContainText(
    'Because we saw that phones leave at the length of the vehicle, we expect that three sizes to choose from on /book for device: phone will raise bookings, because nobody has a tape measure at hand.',
  )
  await page.getByLabel('Low').fill('30')
  await page.getByLabel('Likely').fill('20')
  await page.getByLabel('High').fill('10')
  await page.getByLabel('Effort').fill('2')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('The low lift lies above the high one. Swap them.').first()).toBeVisible()
  await page.getByLabel('Low').fill('10')
  await page.getByLabel('High').fill('40')
  await expect(worth).toContainText('test it higher in the funnel')
  // What is typed and not saved stays, also through a reload.
  await page.reload()
  await expect(page.getByLabel('Likely')).toHaveValue('20')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { name: 'Vehicle sizes in place of lengths' })).toBeVisible()
  await expect(worth).toContainText('40 in the last four weeks')

  // The report of pages says the same for the same days and visitors.
  await page.getByRole('link', { name: 'How do you know?' }).click()
  await expect(page).toHaveURL(/evidence\/pages\?.*segment=device/)
  await page.getByRole('button', { name: 'Columns' }).click()
  await page.getByLabel('Bookings: visitors').check()
  await page.keyboard.press('Escape')
  const [, visitors] = await row(page, /^\/book [^/]/)
    .getByRole('cell')
    .allInnerTexts()
  expect(visitors).toMatch(/^40\b/)
  await expect(row(page, /^\/book [^/]/)).toContainText('20.0 %')

  await page.goBack()
  const thread = page.getByRole('navigation', { name: 'Thread' })
  await expect(thread).toContainText('no experiment yet')
  await page.getByRole('button', { name: 'Make an experiment' }).click()
  await expect(page.getByLabel('Name of the experiment')).toHaveValue('Vehicle sizes in place of lengths')
  await expect(page.getByLabel(/Because we saw/)).toHaveValue(/^Because we saw that phones leave/)
  await expect(page.getByLabel('Smallest worthwhile lift')).toHaveValue('20')
  await expect(thread).toContainText('Phones leave at the length of the vehicle')
  const [made] = await database.select().from(experiment).where(eq(experiment.siteId, siteId))
  expect(made!.pageRules).toMatchObject([{ match: 'exact', value: '/book' }])

  // Starting and ending it move the hypothesis.
  const target = { siteId, experimentId: made!.id, personId: null }
  const edits = [{ id: 'edit-one', kind: 'text' as const, selector: 'h1', original: 'Book a crossing', value: 'Book' }]
  await fillSheet(database, target, {
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'Sizes', weight: 1, edits },
    ],
    plan: { ...made!.plan, plannedVisitors: 1000 },
  })
  await moveExperiment(database, target, 'start')
  await thread.getByRole('link', { name: 'Vehicle sizes in place of lengths' }).click()
  await expect(page.getByLabel('Stage')).toHaveValue('in test')
  await endExperiment(database, target, { variant: null, reason: '', person: null })
  await page.goto(`${url}/sites/${siteId}/hypotheses/board`)
  const learned = page.getByRole('region', { name: 'learned' })
  await expect(learned.getByRole('listitem')).toContainText('ended')
  await learned.getByRole('link', { name: 'Vehicle sizes in place of lengths' }).first().click()
  await page.getByText('History').click()
  await expect(page.getByText('moved to “learned”: Vehicle sizes in place of lengths has ended')).toBeVisible()
  await thread.getByRole('link', { name: 'Phones leave at the length of the vehicle' }).click()
  await expect(page.getByLabel('State')).toHaveValue('taken up')
  await expect(thread).toContainText('ended')

  await page.goto(`${url}/sites/${siteId}/hypotheses/${old.id + 1}`)
  await page.getByRole('textbox', { name: 'Comment' }).fill('What do you think, @vie')
  await page.getByRole('button', { name: '@viewer' }).click()
  await page.getByRole('button', { name: 'Comment' }).click()
  await expect(page.getByText('What do you think, @viewer')).toBeVisible()

  // Somebody else changes it meanwhile: nothing is written over unseen, and what was typed stays.
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  await page.getByLabel('Title').fill('Mine')
  await database
    .update(hypothesis)
    .set({ title: 'Theirs', version: 99 })
    .where(eq(hypothesis.id, old.id + 1))
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Somebody else has changed this hypothesis.')).toBeVisible()
  await expect(page.getByText('What you wrote is still here.')).toBeVisible()
  await expect(page.getByLabel('Title')).toHaveValue('Mine')
  const titleOf = async () =>
    (
      await database
        .select()
        .from(hypothesis)
        .where(eq(hypothesis.id, old.id + 1))
    )[0]!.title
  expect(await titleOf()).toBe('Theirs')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { name: 'Mine' })).toBeVisible()
  expect(await titleOf()).toBe('Mine')
})

test('two thousand of them scroll and filter, are computed beside the list, and move to a place by dragging', async ({
  page,
  world,
}) => {
  const team = await createTeam(world, 'many')
  const { siteId } = team
  const { database } = world
  const metricId = await addMetric(world, team)
  await addVisitors(world, team)
  await database.execute(sql`
    INSERT INTO hypothesis (site_id, title, pages, metric_id, low, likely, high, effort_days, tags)
    SELECT ${siteId}, 'Idea ' || n, 'is:/book' || CASE n % 60 WHEN 0 THEN '' ELSE '/' || n % 60 END, ${metricId},
      0, 0.1, 0.2, 1 + n % 7, ARRAY['tag-' || n % 10]
    FROM generate_series(1, 2000) n`)
  let calls = 0
  page.on('response', (response) => (calls += response.url().endsWith('/idea-figures') ? 1 : 0))
  await team.signIn(page, 'editor', 'hypotheses')
  // 60 pages, 25 in a call.
  await expect.poll(() => calls).toBe(3)
  await expect(page.getByLabel('Computing reach and rates of the last four weeks')).toBeHidden()
  const list = page.getByRole('table', { name: 'Hypotheses' })
  await expect(list).toHaveAttribute('aria-rowcount', '2001')
  expect(await list.getByRole('row').count()).toBeLessThan(60)
  // Of a day's effort those on the only page with visitors are worth the most.
  await expect(list.getByRole('row').nth(1)).toContainText('30')
  await list.getByRole('row').nth(1).focus()
  await page.keyboard.press('End')
  await expect(list.getByRole('button', { name: /^Move/ }).last()).toBeFocused()
  await page.getByLabel('Search').fill('idea 1999')
  await expect(list).toHaveAttribute('aria-rowcount', '2')
  await page.getByLabel('Search').fill('')
  await page.getByLabel('Tag', { exact: true }).selectOption('tag-3')
  await expect(list).toHaveAttribute('aria-rowcount', '201')
  await expect(page).toHaveURL(/tag=tag-3/)
  await page.getByLabel('Tag', { exact: true }).selectOption('any tag')
  await expect(list).toHaveAttribute('aria-rowcount', '2001')

  const titles = () => list.getByRole('row').getByRole('link').allInnerTexts()
  await page.mouse.move(0, 0)
  await list.getByRole('row').nth(1).scrollIntoViewIfNeeded()
  const [first, , third] = await titles()
  await list.getByRole('button', { name: `Move ${third!}`, exact: true }).dragTo(list.getByRole('row').nth(1))
  const dialog = page.getByRole('dialog', { name: `Move “${third!}”` })
  await expect(dialog.getByLabel('Place')).toHaveValue('1')
  await dialog.getByRole('button', { name: 'Move', exact: true }).click()
  await expect(dialog.getByText('Say why it belongs there.')).toBeVisible()
  await dialog.getByLabel('Because').fill('Promised.')
  await dialog.getByRole('button', { name: 'Move', exact: true }).click()
  await expect(page.getByText(`${third!} stands at place 1.`)).toBeVisible()
  expect((await titles()).slice(0, 2)).toEqual([third, first])
  await expect(list.getByRole('row').nth(1)).toContainText('(moved from 3)')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(list.getByRole('row').nth(1)).not.toContainText('else')
})

test('cards move by dragging, up to the limit of a stage; setting one aside asks why', async ({ page, world }) => {
  const team = await createTeam(world, 'board')
  for (const title of ['First', 'Second', 'Third']) await write(world, team, { title })
  await team.signIn(page, 'editor', 'hypotheses')
  await page.getByRole('button', { name: 'Ranked by …' }).click()
  const drawer = page.getByRole('dialog', { name: 'Ranked by' })
  await drawer.getByLabel('Worth testing').fill('0')
  await drawer.getByRole('button', { name: 'Save' }).click()
  await expect(drawer.getByText('A limit is at least 1.')).toBeVisible()
  await drawer.getByLabel('Worth testing').fill('1')
  await drawer.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('The list is ranked anew.')).toBeVisible()

  await page.getByRole('link', { name: 'Board' }).click()
  const column = (name: string) => page.getByRole('region', { name, exact: true })
  const card = (name: string) => page.getByRole('listitem').filter({ hasText: name })
  await expect(column('new').getByRole('listitem')).toHaveCount(3)
  await card('First').dragTo(column('worth testing'), { sourcePosition: { x: 5, y: 5 } })
  await expect(column('worth testing')).toContainText('1 of 1')
  await card('Second').dragTo(column('worth testing'), { sourcePosition: { x: 5, y: 5 } })
  await expect(page.getByText(/holds 1 already, and the team’s limit is 1/)).toBeVisible()
  await expect(column('new').getByRole('listitem')).toHaveCount(2)
  await page.getByLabel('Stage of Second').selectOption('worth testing')
  await expect(page.getByText(/holds 1 already/).last()).toBeVisible()
  await expect(page.getByLabel('Stage of Second')).toHaveValue('new')
  await page.getByLabel('Stage of Third').selectOption('set aside')
  await page.keyboard.press('Escape')
  await expect(page.getByLabel('Stage of Third')).toHaveValue('new')
  await page.getByLabel('Stage of Third').selectOption('set aside')
  const dialog = page.getByRole('dialog', { name: 'Why is it set aside?' })
  await dialog.getByRole('button', { name: 'Set it aside' }).click()
  await expect(dialog.getByText('Say why, so that nobody has to ask again.')).toBeVisible()
  await dialog.getByLabel('Because').fill('No traffic.')
  await dialog.getByRole('button', { name: 'Set it aside' }).click()
  await expect(page.getByText('Third: set aside.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(column('new').getByRole('listitem')).toHaveCount(2)
})

test('a table is mapped, previewed and imported; bad rows are named and the rest comes in; it goes out as it came', async ({
  page,
  world,
}) => {
  const team = await createTeam(world, 'tables')
  await addMetric(world, team)
  await team.signIn(page, 'editor', 'hypotheses/import')
  const table =
    'Idea;What is done;Page;Goal;Low;Likely;High\nSizes;three sizes;/book;Bookings;1;5;9\nWrong;x;/book;Sales;9;5;1\n=Cmd();;;;;;\nsizes;again;/book;Bookings;1;5;9\n'
  await page
    .getByLabel('CSV file')
    .setInputFiles({ name: 'ideas.csv', mimeType: 'text/csv', buffer: Buffer.from(table) })
  await expect(page.getByLabel('Title')).toHaveValue('0')
  await expect(page.getByLabel('Change')).toHaveValue('')
  await page.getByLabel('Change').selectOption('What is done')
  await expect(page.getByTestId('counts')).toContainText('2 of 4 rows.')
  await expect(page.getByText(/Row 3: There is no metric “Sales”.*Swap them/)).toBeVisible()
  await expect(page.getByText('Row 5 is the same idea as row 2.')).toBeVisible()
  await page.getByRole('button', { name: 'Import 2' }).click()
  const list = page.getByRole('table', { name: 'Hypotheses' })
  await expect(row(page, /Sizes/)).toBeVisible()
  await expect(list.getByRole('row')).toHaveCount(3)
  const saving = page.waitForEvent('download')
  await page.getByRole('link', { name: 'Export as CSV: Hypotheses' }).click()
  const text = readFileSync(await (await saving).path(), 'utf8')
  expect(text).toContain(',Sizes,three sizes,')
  expect(text).toContain("'=Cmd()")
})

test('the quarter holds what is worth the most and fits the pages, beside what runs', async ({ page, world }) => {
  const team = await createTeam(world, 'quarter')
  const { siteId } = team
  const { database } = world
  const metricId = await addMetric(world, team)
  await addVisitors(world, team)
  const common = { metric: metricId, pages: 'is:/book', low: 2, likely: 2.2, high: 2.4 }
  await write(world, team, { ...common, title: 'Dear', effortDays: 1 })
  await write(world, team, { ...common, title: 'Dearer', likely: 2.3, effortDays: 9 })
  await write(world, team, { title: 'Unsaid' })
  await team.signIn(page, 'editor', 'hypotheses/quarter')
  const choice = page.getByTestId('choice')
  await expect(choice).toContainText('0 of 0 ideas')
  await expect(page.getByText(/Dear: has no value in money/)).toBeVisible()
  await database.execute(sql`
    INSERT INTO ranking_terms (site_id, terms)
    VALUES (${siteId}, jsonb_build_object('unitValues', jsonb_build_object(${metricId}::text, 50)))`)
  await page.reload()
  await expect(choice).toContainText('2 of 2 ideas')
  await expect(choice).toContainText('No other choice is worth more.')
  const calendar = page.getByRole('table', { name: 'Plan by week' })
  await expect(calendar.getByRole('row')).toHaveCount(3)
  await page.getByLabel('Days of effort').fill('5')
  await page.getByLabel('Days of effort').press('Enter')
  await expect(choice).toContainText('1 of 2 ideas')
  await expect(calendar).toContainText('Dear')
  await expect(page.getByText('Dearer: does not fit beside what is worth more')).toBeVisible()
  await page.getByLabel('Weeks').fill('99')
  await page.getByLabel('Weeks').press('Enter')
  await expect(page.getByText('Type 1 to 30 weeks.')).toBeVisible()
  expect(await database.select().from(hypothesis).where(eq(hypothesis.siteId, siteId))).toHaveLength(3)
})
