import { expect } from '@playwright/test'
import { folded, happen } from '../arrivals'
import { createTeam } from './team'
import { test } from './world'

const PASSWORD = 'a-long-enough-password'

test('an owner invites a colleague, who joins by the link of the letter, forgets the password and chooses another', async ({
  page,
  world,
  browser,
}) => {
  const team = await createTeam(world, 'people')
  await team.signIn(page, 'owner', 'setup/people')
  await expect(page.getByRole('button', { name: 'Invite' })).toBeVisible()
  await page.getByLabel('E-mail address').fill('not an address')
  await page.getByRole('button', { name: 'Invite' }).click()
  await expect(page.getByText('Type an e-mail address, such as')).toBeVisible()
  await expect(page.getByLabel('E-mail address')).toHaveValue('not an address')
  await page.getByLabel('E-mail address').fill('ines@people.example')
  await page.getByRole('button', { name: 'Invite' }).click()
  await expect(page.getByText('A letter to ines@people.example is on its way')).toBeVisible()

  const context = await browser.newContext()
  const colleague = await context.newPage()
  await colleague.goto(world.outbox.webUrl)
  await colleague.getByRole('link', { name: /\/join#/ }).click()
  await expect(colleague.getByRole('heading', { name: 'Join people' })).toBeVisible()
  await colleague.getByLabel('Your name').fill('Ines')
  await colleague.getByLabel('Password').fill(PASSWORD)
  await colleague.getByRole('button', { name: 'Join' }).click()
  await expect(colleague.getByRole('heading', { name: 'Today' })).toBeVisible()
  await page.reload()
  const members = page.getByRole('table', { name: 'Members' })
  await expect(members.getByRole('row', { name: /Ines ines@people.example/ })).toBeVisible()
  await expect(page.getByRole('button', { name: /Take back the invitation/ })).toHaveCount(0)

  await colleague.getByRole('button', { name: 'Sign out' }).click()
  await colleague.getByRole('link', { name: 'Forgotten password' }).click()
  await expect(colleague.getByRole('heading', { name: 'Forgotten password' })).toBeVisible()
  await colleague.getByLabel('E-mail address').fill('ines@people.example')
  await colleague.getByRole('button', { name: 'Send me a link' }).click()
  await expect(colleague.getByRole('heading', { name: 'Look into your mail' })).toBeVisible()
  await expect(async () => {
    await colleague.goto(world.outbox.webUrl)
    await colleague.getByRole('link', { name: /\/reset#/ }).click({ timeout: 1000 })
  }).toPass({ timeout: 180_000 })
  await colleague.getByLabel('New password').fill('another-good-password')
  await colleague.getByRole('button', { name: 'Change the password' }).click()
  await expect(colleague.getByRole('heading', { name: 'Sign in' })).toBeVisible()
  await colleague.getByLabel('E-mail address').fill('ines@people.example')
  await colleague.getByLabel('Password').fill('another-good-password')
  await colleague.getByRole('button', { name: 'Sign in' }).click()
  await expect(colleague.getByRole('heading', { name: 'Today' })).toBeVisible()

  await members.getByLabel('Role of Ines').selectOption('viewer')
  await expect(page.getByText('Ines is viewer now.')).toBeVisible()
  await members.getByRole('button', { name: 'Remove Ines' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click()
  // Under an open dialog the list cannot be reached either: what is said tells that it is done.
  await expect(page.getByText('Ines is not a member any more.')).toBeVisible()
  await expect(members.getByRole('row', { name: /Ines/ })).toHaveCount(0)
  await colleague.reload()
  await expect(colleague.getByRole('heading', { name: 'There is nothing at this address.' })).toBeVisible()
  await colleague.getByRole('button', { name: 'Go to the start' }).click()
  await expect(colleague.getByText('You are not a member of any site yet.')).toBeVisible()
  await context.close()
})

test('one keeps one’s own name and password', async ({ page, world }) => {
  const team = await createTeam(world, 'own')
  await team.signIn(page, 'editor')
  await page.goto(`${world.url}/account`)
  await page.getByRole('textbox', { name: 'Name' }).fill('')
  await page.getByRole('button', { name: 'Save the name' }).click()
  await expect(page.getByText('Type your name.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Name' }).fill('Tobin')
  await page.getByRole('button', { name: 'Save the name' }).click()
  await expect(page.getByRole('navigation').getByRole('link', { name: 'Tobin' })).toBeVisible()
  await page.getByLabel('Current password').fill('wrong')
  await page.getByLabel('New password').fill('another-good-password')
  await page.getByRole('button', { name: 'Change the password' }).click()
  await expect(page.getByText('This is not the password that you have now.').first()).toBeVisible()
  await expect(page.getByLabel('New password')).toHaveValue('another-good-password')
  await page.getByLabel('Current password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Change the password' }).click()
  await expect(page.getByText('You are signed out everywhere else.')).toBeVisible()
  await expect(page.getByLabel('New password')).toHaveValue('')
})

test('Today shows the traffic of the days and visitors that one chooses, and a link shows the same', async ({
  page,
  world,
}) => {
  const team = await createTeam(world, 'traffic')
  const day = 24 * 3_600_000
  const seen = (visitor: string, daysAgo: number, device: string) => ({
    visitor,
    at: Date.now() - daysAgo * day,
    view: { device, sessionId: `${visitor}-${daysAgo}` },
  })
  const happenings = [
    ...[seen('visitor-a', 2, 'phone'), seen('visitor-b', 2, 'desktop'), seen('visitor-a', 3, 'phone')],
    ...[seen('visitor-c', 20, 'phone'), seen('visitor-d', 40, 'phone')],
  ]
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, happenings)
  await folded(world.database, team.siteId)
  await team.signIn(page, 'viewer')
  const traffic = page.getByRole('region', { name: 'Traffic' })
  await expect(traffic).toContainText(
    '3 visitors in 4 sessions with 4 page views; visitors +200.0 % against the previous period',
  )
  await traffic.getByRole('radio', { name: '7 days' }).click()
  await expect(traffic).toContainText('2 visitors in 3 sessions')
  await traffic.getByRole('button', { name: 'Choose …' }).click()
  await page.getByLabel('Where').selectOption('Device')
  await page.getByLabel('is', { exact: true }).selectOption('phone')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(traffic).toContainText('1 visitor in 2 sessions')
  await expect(page).toHaveURL(/days=7&segment=device:phone|days=7&segment=device%3Aphone/)
  await page.reload()
  await expect(traffic).toContainText('1 visitor in 2 sessions')
  await traffic.getByRole('button', { name: /^Table/ }).click()
  await expect(traffic.getByRole('table').getByRole('row')).toHaveCount(8)
  await page.goto(`${world.url}/sites/${team.siteId}/today?from=2020-01-05&to=2020-01-01`)
  await expect(traffic).toContainText('3 visitors in 4 sessions')
})

test('a long table draws the rows in sight, and the keys reach its end', async ({ page, world }) => {
  const team = await createTeam(world, 'long')
  const happenings = [...Array(90).keys()].map((daysAgo) => ({
    visitor: `visitor-${daysAgo}`,
    at: Date.now() - daysAgo * 24 * 3_600_000,
    view: { sessionId: `session-${daysAgo}` },
  }))
  await happen(world.database, { id: team.siteId, address: team.siteAddress }, happenings)
  await folded(world.database, team.siteId)
  await team.signIn(page, 'viewer', 'today?days=90')
  const traffic = page.getByRole('region', { name: 'Traffic' })
  await traffic.getByRole('button', { name: /^Table/ }).click()
  const rows = traffic.getByRole('table').getByRole('row')
  await expect(rows.nth(1)).toBeVisible()
  expect(await rows.count()).toBeLessThan(60)
  await expect(traffic.getByRole('table')).toHaveAttribute('aria-rowcount', '91')
  const days = traffic.locator('td:first-child')
  const first = await days.first().textContent()
  await rows.nth(1).focus()
  await page.keyboard.press('ArrowDown')
  await expect(traffic.locator('[data-index="1"]')).toBeFocused()
  // From the table itself, which the Tab key leads to.
  await traffic.getByRole('table').locator('..').focus()
  await page.keyboard.press('End')
  await expect(traffic.locator('[data-index="89"]')).toBeFocused()
  await page.keyboard.press('ArrowUp')
  await expect(traffic.locator('[data-index="88"]')).toBeFocused()
  await page.keyboard.press('Home')
  await expect(traffic.locator('[data-index="0"]')).toBeFocused()
  await expect(days.first()).toHaveText(first!)
})
