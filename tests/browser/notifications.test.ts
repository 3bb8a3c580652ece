import { expect } from '@playwright/test'
import { eq, isNull, sql } from 'drizzle-orm'
import { DAY } from '../../core/time/units'
import { letterTimes, notification, person } from '../../server/database/schema'
import { settleAlarms } from '../../server/services/watch/alarms'
import { openReceiver } from '../../stand-ins/receiver/receiver'
import { primaryMetric } from '../metrics'
import { startedExperiment } from '../startedExperiment'
import { createTeam } from './team'
import { test } from './world'

test('from an alarm to the letter, to the page that it leads to, and to hearing less of it', async ({
  world,
  page,
  browser,
}) => {
  const team = await createTeam(world, 'told')
  const experimentId = await startedExperiment(
    world.database,
    team.siteId,
    Date.now() - 3 * DAY,
    primaryMetric('Booked', 'conversion', { type: 'event', name: 'order' }),
  )
  const [editor] = await world.database.select().from(person).where(eq(person.email, 'editor@told.example'))
  await world.database.execute(sql`
    INSERT INTO change_log (site_id, person_id, subject, subject_id, action)
    VALUES (${team.siteId}, ${editor!.id}, 'experiment', ${experimentId}, 'started')`)
  await world.database.insert(letterTimes).values({ personId: editor!.id, quietFrom: 0, quietUntil: 0 })
  await team.signIn(page, 'editor', 'news')
  await expect(page.getByText('Nothing has happened yet.')).toBeVisible()

  const finding = { check: 'variant', cause: 'variant 1', text: '<b>Nobody</b> new in “Warm” for a day.' } as const
  const found = [{ subject: { experimentId, rolloutId: null }, findings: [finding] }]
  await settleAlarms(world.database, team.siteId, found, new Date(), false)
  // It is told at once to whoever looks.
  const told = page.getByTestId('notification')
  await expect(told).toContainText('New')
  await expect(told).toContainText('<b>Nobody</b> new in “Warm” for a day.')
  await expect(page.getByRole('link', { name: 'What is new, 1 not seen' }).first()).toBeVisible()
  // The minute in which more might come is over.
  await world.database.update(notification).set({ dueAt: new Date() }).where(isNull(notification.letterId))

  const outbox = await (await browser.newContext()).newPage()
  await expect(async () => {
    await outbox.goto(world.outbox.webUrl)
    await expect(outbox.getByText('to editor@told.example')).toBeVisible({ timeout: 500 })
  }).toPass({ timeout: 180_000 })
  const letter = outbox.getByRole('article').filter({ hasText: 'to editor@told.example' })
  await expect(letter).toHaveCount(1)
  await expect(letter.getByRole('heading')).toContainText('Alarm: ')
  const place = await letter.getByRole('link', { name: /#alarms$/ }).getAttribute('href')
  await page.goto(place!)
  await expect(page.getByTestId('alarm')).toContainText('A variant has no visitors')

  // Without an account, by the letter alone.
  await letter.getByRole('link', { name: /\/less#/ }).click()
  await expect(outbox.getByText('It is done. From now on you are told so:')).toBeVisible()
  const way = outbox.getByLabel(/^Alarm: /)
  await expect(way).toHaveValue('morning')
  await way.selectOption('Not at all')
  await expect(outbox.getByText('A choice holds at once.')).toBeVisible()
  await outbox.context().close()

  await page.getByRole('button', { name: 'Notifications …' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByLabel('Alarm')).toHaveValue('none')
  await dialog.getByLabel('Alarm').selectOption('As usual: by mail at once')
  await dialog.getByRole('button', { name: 'Close' }).click()
  await page.goto(`${world.url}/sites/${team.siteId}/news`)
  await page.getByRole('button', { name: 'Mark all as seen' }).click()
  await expect(page.getByRole('link', { name: 'What is new', exact: true }).first()).toBeVisible()
  await page.getByRole('radio', { name: 'New' }).click()
  await expect(page.getByText('Nothing is new. You have seen it all.')).toBeVisible()
})

test('everybody chooses what they are told, and when; what is wrong stays as it was typed', async ({ world, page }) => {
  const team = await createTeam(world, 'choosing')
  await team.signIn(page, 'viewer')
  await page.goto(`${world.url}/account#told`)
  await page.getByLabel('Verdict reached').selectOption('In the morning letter')
  await expect(page.getByText('Saved.')).toBeVisible()
  await page.getByLabel('Time zone').fill('Atlantis')
  await page.getByLabel('Morning letter at').fill('06:30')
  await page.getByRole('button', { name: 'Save the times' }).click()
  await expect(page.getByText('There is no such time zone.')).toBeVisible()
  await expect(page.getByLabel('Time zone')).toHaveValue('Atlantis')
  await expect(page.getByLabel('Morning letter at')).toHaveValue('06:30')
  await page.getByLabel('Time zone').fill('Europe/Lisbon')
  await page.getByRole('button', { name: 'Save the times' }).click()
  await expect(page.getByText('There is no such time zone.')).toHaveCount(0)
  await page.reload()
  await expect(page.getByLabel('Verdict reached')).toHaveValue('morning')
  await expect(page.getByLabel('Morning letter at')).toHaveValue('06:30')
  await expect(page.getByLabel('Time zone')).toHaveValue('Europe/Lisbon')
})

test('an owner adds a webhook, sends a test, sees what it was answered, and sends it again', async ({
  world,
  page,
}) => {
  const team = await createTeam(world, 'hooks')
  await team.signIn(page, 'owner', 'setup/webhooks')
  await page.getByLabel('Address').fill('http://127.0.0.1:1/hook')
  await page.getByRole('button', { name: 'Create a webhook' }).click()
  await expect(page.getByText(/127\.0\.0\.1 lies on the machine that Vetch runs on/)).toBeVisible()
  await expect(page.getByLabel('Address')).toHaveValue('http://127.0.0.1:1/hook')
  await page.getByLabel('Address').fill(`http://127.0.0.1:${world.receiverPort}/hook`)
  await page.getByLabel('Experiment started').uncheck()
  await page.getByRole('button', { name: 'Create a webhook' }).click()
  await expect(page.getByText('Copy it now: it is not shown again.')).toBeVisible()
  const secret = await page.locator('figure pre').innerText()
  const receiver = await openReceiver({ port: world.receiverPort, secrets: [secret] })

  const row = page.getByTestId('webhook')
  await expect(row).toContainText('Nothing taken yet.')
  await row.getByRole('button', { name: 'Send a test' }).click()
  const log = row.getByRole('table', { name: 'What was sent' })
  await expect(log.getByRole('row', { name: /Test .* delivered .* 200: taken/ })).toBeVisible()
  expect(receiver.messages()).toMatchObject([{ kind: 'test', isGenuine: true }])
  receiver.answerWith(500)
  await log.getByRole('button', { name: /^Send again: Test/ }).click()
  await expect(log.getByRole('row', { name: /Test .* given up .* 500: not taken/ })).toBeVisible()
  await row.getByRole('button', { name: 'Pause' }).click()
  await expect(row).toContainText('Paused')
  await row.getByRole('button', { name: /^Delete/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByText('No program is told of anything.')).toBeVisible()
  await receiver.close()
  await team.signIn(page, 'editor', 'setup/webhooks')
  await expect(page.getByText('Owners decide which programs are told.')).toBeVisible()
})
