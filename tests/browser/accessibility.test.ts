import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, type Team } from './team'
import { test, type World } from './world'

let prepared: Promise<Team & { draftId: number; runningId: number }> | undefined

function prepare(world: World) {
  prepared ??= (async () => {
    const { database } = world
    const team = await createTeam(world, 'accessibility')
    const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
    const order = { type: 'event', name: 'order' } as const
    const draft = async (name: string) => {
      const { id } = await createExperiment(database, team.siteId, null, name)
      await fillSheet(
        database,
        { siteId: team.siteId, experimentId: id, personId: null },
        {
          pageRules: [{ match: 'exact', value: '/' }],
          plan: PLAN,
          metrics: [
            primaryMetric('Orders', 'conversion', order),
            primaryMetric('Order value', 'mean', order, { role: 'secondary' }),
            primaryMetric(
              'Returns',
              'conversion',
              { type: 'event', name: 'return' },
              { role: 'guardrail', direction: 'down', limit: 0.05 },
            ),
          ],
          variants: [
            { name: 'Control', weight: 1, edits: [] },
            { name: 'Warm', weight: 1, edits: [edit] },
          ],
        },
      )
      return id
    }
    const [draftId, runningId] = [await draft('A draft'), await draft('A running one')]
    await moveExperiment(database, { siteId: team.siteId, experimentId: runningId, personId: null }, 'start')
    return { ...team, draftId, runningId }
  })()
  return prepared
}

/** Rules of WCAG 2.2 AA that a view breaks, with the elements that break them. */
async function violations(page: Page): Promise<string[]> {
  const { violations: found, passes } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze()
  expect(passes.length, 'rules that were checked').toBeGreaterThan(8)
  return found.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id}: ${node.target.join(' ')} ${node.failureSummary?.split('\n')[1]?.trim() ?? ''}`),
  )
}

const VIEWS: [string, (team: { draftId: number; runningId: number }) => string, string][] = [
  ['Today', () => 'today', 'Today'],
  ['Experiments', () => 'experiments', 'Experiments'],
  ['a draft’s sheet', ({ draftId }) => `experiments/${draftId}`, 'Measured by'],
  ['a running sheet', ({ runningId }) => `experiments/${runningId}`, 'What happened'],
  ['Setup', () => 'setup/site', 'Script line'],
]

for (const colors of ['light', 'dark'] as const) {
  test(`every view keeps WCAG 2.2 AA in ${colors} colors`, async ({ page, world }) => {
    await page.emulateMedia({ colorScheme: colors, reducedMotion: 'reduce' })
    const team = await prepare(world)
    await team.signIn(page, 'owner')
    for (const [name, path, landmark] of VIEWS) {
      await page.goto(`${world.url}/sites/${team.siteId}/${path(team)}`)
      await expect(page.getByText(landmark).first()).toBeVisible()
      await page.waitForLoadState('networkidle')
      expect(await page.evaluate(() => document.documentElement.classList.contains('dark'))).toBe(colors === 'dark')
      expect(await violations(page), name).toEqual([])
    }
  })
}

test('the sign-in, the palette, and a dialog keep it too', async ({ page, world }) => {
  const team = await prepare(world)
  await page.goto(`${world.url}/sign-in`)
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  expect(await violations(page)).toEqual([])
  await team.signIn(page, 'owner', `experiments/${team.runningId}`)
  await expect(page.getByText('What happened')).toBeVisible()
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog').getByRole('combobox')).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'End …' }).click()
  await expect(page.getByRole('button', { name: 'End it' })).toBeVisible()
  expect(await violations(page)).toEqual([])
})
