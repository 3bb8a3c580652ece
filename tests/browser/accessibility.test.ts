import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Browser, type Page } from '@playwright/test'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { siteMetrics } from '../../server/services/evidence/choices'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { addComment } from '../../server/services/hypotheses/comments'
import { createHypothesis } from '../../server/services/hypotheses/hypotheses'
import { startRollout } from '../../server/services/rollouts/rollouts'
import { hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { folded, happen } from '../arrivals'
import { createGroup } from '../../server/services/traffic/groups'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam, type Team } from './team'
import { test, type World } from './world'

type Prepared = Team & { draftId: number; runningId: number; ideaId: number; rolloutId: number }
let prepared: Promise<Prepared> | undefined

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
    await createGroup(database, team.siteId, null, { name: 'Booking pages', kind: 'parts' })
    const [draftId, runningId] = [await draft('A draft'), await draft('A running one')]
    await moveExperiment(database, { siteId: team.siteId, experimentId: runningId, personId: null }, 'start')
    const visitors = [...Array(80).keys()].flatMap((index) => {
      const [visitor, at] = [`visitor-${index}`, Date.now() - 1000 * index]
      const order = { visitor, at: at + 500, type: 'custom', name: 'order', amount: 20 } as const
      const exposure = { visitor, at, type: 'exposure', experiment: runningId, variant: index % 2 } as const
      return index % 3 === 0 ? [exposure, order] : [exposure]
    })
    await happen(database, { id: team.siteId, address: team.siteAddress }, visitors)
    await folded(database, team.siteId)
    const orders = (await siteMetrics(database, team.siteId)).find(({ name }) => name === 'Orders')!
    const expected = { metric: orders.id, pages: 'is:/', low: 0, likely: 0.05, high: 0.1, effortDays: 1 }
    const input = hypothesisSchema.validateSync({ title: 'Shorter form', ...expected, tags: ['form'] })
    const { id: ideaId } = await createHypothesis(database, { siteId: team.siteId, personId: null }, input)
    await addComment(database, { siteId: team.siteId, hypothesisId: ideaId, personId: null }, 'Seen.')
    const wonId = await draft('A won one')
    const won = { siteId: team.siteId, experimentId: wonId, personId: null }
    const { variants } = await moveExperiment(database, won, 'start')
    await endExperiment(database, won, { variant: variants[1]!.id, reason: 'More orders.', person: null })
    const served = await startRollout(database, won, { share: 5000, isForEverybody: true }, new Date())
    return { ...team, draftId, runningId, ideaId, rolloutId: served.id }
  })()
  return prepared
}

/** Rules of WCAG 2.2 AA that a view breaks, with the elements that break them. */
async function violations(page: Page, only: 'all' | 'contrast' = 'all'): Promise<string[]> {
  // What frames show are customers’ pages. Not looking into them saves a page of its own, and most of the time.
  const builder = new AxeBuilder({ page }).setLegacyMode(true)
  const { violations: found, passes } = await (
    only === 'all'
      ? builder.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      : builder.withRules(['color-contrast'])
  ).analyze()
  expect(passes.length, 'rules that were checked').toBeGreaterThan(only === 'all' ? 8 : 0)
  return found.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id}: ${node.target.join(' ')} ${node.failureSummary?.split('\n')[1]?.trim() ?? ''}`),
  )
}

const VIEWS: [string, (team: Prepared) => string, string][] = [
  ['Today', () => 'today', 'Visitors a day'],
  ['Experiments', () => 'experiments', 'Lift of the best variant'],
  ['Audiences', () => 'experiments/audiences?audience=new', 'Visitors who match'],
  ['Shared traffic', () => 'experiments/traffic', 'of the visitors are free'],
  ['Dry run of a persona', () => 'experiments/dry-run', 'Pages seen before'],
  ['Dry run of the past', ({ draftId }) => `experiments/dry-run?experiment=${draftId}`, 'would have taken part'],
  ['a draft’s sheet', ({ draftId }) => `experiments/${draftId}`, 'Measured by'],
  ['a running sheet', ({ runningId }) => `experiments/${runningId}`, 'Orders a day'],
  ['Rollouts', () => 'rollouts', 'Visitors, 7 days'],
  ['one rollout', ({ rolloutId }) => `rollouts/${rolloutId}`, 'Visitors a day'],
  ['the pointing view', ({ draftId }) => `experiments/${draftId}/point?variant=1`, 'Back to the sheet'],
  ['two variants side by side', ({ draftId }) => `experiments/${draftId}/compare`, 'What differs'],
  ['Evidence: pages', () => 'evidence/pages', 'Bounce rate'],
  ['Evidence: one page', () => 'evidence/page?of=/elsewhere', 'Before it'],
  ['Evidence: visitors', () => 'evidence/visitors?by=device', 'Visitors a day'],
  ['Evidence: heatmap', () => 'evidence/heatmap?of=is:/elsewhere', 'clicks by'],
  ['Evidence: recordings', () => 'evidence/recordings', 'No recordings in these days'],
  ['Evidence: funnels', () => 'evidence/funnels', 'Show the funnel'],
  ['Evidence: forms', () => 'evidence/forms', 'No form was seen'],
  ['Evidence: surveys', () => 'evidence/surveys', 'No survey has been written'],
  ['Evidence: findings', () => 'evidence/findings', 'Worth a look'],
  ['Evidence: events', () => 'evidence/events', 'Last seen'],
  ['Hypotheses: list', () => 'hypotheses/list', 'How is this ranked?'],
  ['Hypotheses: one', ({ ideaId }) => `hypotheses/${ideaId}`, 'visitors a week'],
  ['Hypotheses: writing', () => 'hypotheses/new', 'What is expected'],
  ['Hypotheses: board', () => 'hypotheses/board', 'worth testing'],
  ['Hypotheses: next quarter', () => 'hypotheses/quarter', 'Not in it'],
  ['Hypotheses: import', () => 'hypotheses/import', 'The table'],
  ['Setup', () => 'setup/site', 'Script line'],
  ['Collection', () => 'setup/collection', 'Behavior'],
  ['Metrics of the site', () => 'setup/metrics', 'In four weeks'],
  ['People', () => 'setup/people', 'Invite'],
  ['Webhooks', () => 'setup/webhooks', 'New webhook'],
  ['What is new', () => 'news', 'Experiment ended'],
  ['Alarms', () => 'alarms', 'Last 90 days'],
  ['the account', () => '../../account', 'Where you are signed in'],
]
const SIZES = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
]

/** In every size, in light and in dark. */
async function expectAccess(page: Page): Promise<void> {
  for (const size of SIZES) {
    await page.setViewportSize(size)
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme })
      await expect(page.locator('html')).toHaveClass(colorScheme === 'dark' ? /dark/ : /^(?!.*dark)/)
      // Only contrast depends on colors.
      const only = colorScheme === 'light' ? 'all' : 'contrast'
      expect(await violations(page, only), `${size.width} px, ${colorScheme}`).toEqual([])
    }
    // Nothing is wider than the window.
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width)
  }
}

let opened: Promise<Page> | undefined
/** One page for all views: what it has loaded of the application once it does not load again. */
function ownersPage(browser: Browser, { signIn }: Prepared): Promise<Page> {
  opened ??= browser.newPage({ reducedMotion: 'reduce' }).then(async (page) => {
    await signIn(page, 'owner')
    return page
  })
  return opened
}

for (const [name, path, landmark] of VIEWS) {
  test(`${name} keeps WCAG 2.2 AA on a phone and a desk, in light and dark`, async ({ browser, world }) => {
    const team = await prepare(world)
    const page = await ownersPage(browser, team)
    await page.emulateMedia({ colorScheme: 'light' })
    await page.setViewportSize(SIZES[0]!)
    await page.goto(`${world.url}/sites/${team.siteId}/${path(team)}`)
    await expect(page.getByText(landmark).first()).toBeAttached()
    await page.waitForLoadState('networkidle')
    await expectAccess(page)
  })
}

test('the doors, the palette, and a dialog keep it too', async ({ page, world }) => {
  const team = await prepare(world)
  await page.goto(`${world.url}/sign-in`)
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  await expectAccess(page)
  for (const [path, landmark] of [
    ['forgot', 'Send me a link'],
    ['reset#no-such-key', 'Change the password'],
    ['join#no-such-key', 'Try again'],
  ]) {
    await page.goto(`${world.url}/${path}`)
    await expect(page.getByText(landmark!)).toBeVisible()
    await expectAccess(page)
  }
  await team.signIn(page, 'owner', `experiments/${team.runningId}`)
  await expect(page.getByText('What happened')).toBeVisible()
  await page.keyboard.press('Control+k')
  await expect(page.getByRole('dialog').getByRole('combobox')).toBeVisible()
  expect(await violations(page)).toEqual([])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'End …' }).click()
  await expect(page.getByRole('dialog').getByRole('button', { name: 'End', exact: true })).toBeVisible()
  expect(await violations(page)).toEqual([])
})
