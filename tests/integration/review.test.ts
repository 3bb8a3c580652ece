import type { ReviewView } from '../../shared/experiments/reviewReplies'
import type { Paged } from '../../shared/api/paging'
import type { NotificationView } from '../../shared/notifications/replies'
import type { TodayView } from '../../shared/sites/replies'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { noteFirstReport } from '../../server/services/sites/sites'
import { PLAN, primaryMetric } from '../metrics'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
type Caller = Awaited<ReturnType<typeof callerOf>>
let editor: Caller
let viewer: Caller

beforeAll(async () => {
  team = await createTeam(database)
  await noteFirstReport(database, team.site.id)
  ;[editor, viewer] = [await callerOf(url, team.emails.editor), await callerOf(url, team.emails.viewer)]
})
afterAll(() => database.$client.end())

async function draft() {
  const { id: experimentId } = await createExperiment(database, team.site.id, null, 'Reviewed')
  const target = { siteId: team.site.id, experimentId, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { id: 'variant-a', name: 'Control', weight: 1, edits: [] },
      {
        id: 'variant-b',
        name: 'Warm',
        weight: 1,
        edits: [{ id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' }],
      },
    ],
  })
  const path = `/api/sites/${team.site.id}/experiments/${experimentId}`
  const read = async (caller = editor) => (await (await caller('GET', `${path}/review`)).json()) as ReviewView
  return { target, path, read }
}
const start = (target: Parameters<typeof moveExperiment>[1]) => moveExperiment(database, target, 'start')

test('a member is asked, sees it on Today, asks for changes, which stop the start, and approves at last', async () => {
  const { target, path, read } = await draft()
  const { people } = await read()
  const asked = people.find(({ name }) => name === 'viewer') ?? people.at(-1)!
  expect((await viewer('POST', `${path}/review/approvals`, { person: asked.id })).status).toBe(403)
  const nobody = await editor('POST', `${path}/review/approvals`, { person: 2_000_000_000 })
  expect(nobody.status).toBe(422)
  expect((await editor('POST', `${path}/review/approvals`, { person: asked.id })).status).toBe(200)
  const today = async () =>
    ((await (await viewer('GET', `/api/sites/${team.site.id}/today`)).json()) as TodayView).needs.filter(({ title }) =>
      title.includes('approve “Reviewed”'),
    )
  expect(await today()).toHaveLength(1)
  const { items } = (await (
    await viewer('GET', `/api/sites/${team.site.id}/notifications`)
  ).json()) as Paged<NotificationView>
  expect(items[0]).toMatchObject({ kind: 'approval', title: 'Reviewed', by: 'editor', isSeen: false })
  expect(items[0]!.path).toBe(`/experiments/${target.experimentId}#review`)

  const answer = (body: object) => viewer('POST', `${path}/review/answer`, body)
  expect((await answer({ answer: 'changes' })).status).toBe(422)
  expect((await answer({ answer: 'changes', words: 'Say less.' })).status).toBe(200)
  expect(await today()).toEqual([])
  await expect(start(target)).rejects.toMatchObject({ status: 422, message: expect.stringContaining('Say less.') })

  await answer({ answer: 'approved' })
  expect((await read()).approvals[0]).toMatchObject({ answer: 'approved', isOutdated: false, isOwn: false })
  expect((await read(viewer)).approvals[0]!.isOwn).toBe(true)
  // A new name asks for no new approval, another plan does.
  await fillSheet(database, target, { name: 'Reviewed twice' })
  expect((await read()).approvals[0]!.isOutdated).toBe(false)
  await fillSheet(database, target, { plan: { ...PLAN, smallestLift: 0.4 } })
  expect((await read()).approvals[0]!.isOutdated).toBe(true)
  expect((await start(target)).state).toBe('running')
  expect((await editor('POST', `${path}/review/approvals`, { person: asked.id })).status).toBe(409)
})

test('whoever is asked no longer can answer no longer, and their objection stops nothing', async () => {
  const { target, path, read } = await draft()
  const { people } = await read()
  const asked = people.find(({ name }) => name === 'viewer') ?? people.at(-1)!
  await editor('POST', `${path}/review/approvals`, { person: asked.id })
  await viewer('POST', `${path}/review/answer`, { answer: 'changes', words: 'No.' })
  const [approval] = (await read()).approvals
  expect((await editor('DELETE', `${path}/review/approvals/${approval!.id}`)).status).toBe(200)
  expect((await viewer('POST', `${path}/review/answer`, { answer: 'approved' })).status).toBe(404)
  expect((await start(target)).state).toBe('running')
})

test('what is said mentions members, and is taken back by whoever said it alone', async () => {
  const { target, path, read } = await draft()
  const [someone] = (await read()).people
  const said = await viewer('POST', `${path}/review/comments`, { words: `@${someone!.name} have a look <b>here</b>` })
  const { comments } = (await said.json()) as ReviewView
  expect(comments).toMatchObject([{ isOwn: true, mentions: [someone!.name], words: expect.stringContaining('<b>') }])
  const at = `${path}/review/comments/${comments[0]!.id}`
  expect((await editor('DELETE', at)).status).toBe(404)
  expect((await viewer('DELETE', at)).status).toBe(200)
  expect((await read()).comments).toEqual([])
  expect((await findSheet(database, target.siteId, target.experimentId)).version).toBeGreaterThan(1)
})
