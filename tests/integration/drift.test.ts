import { afterAll, expect, test } from 'vitest'
import { eq } from 'drizzle-orm'
import type { Edit } from '../../core/edits/content'
import { PLAIN_TERMS, type SheetTerms } from '../../core/sheet/terms'
import { connect } from '../../server/database/connect'
import { experiment } from '../../server/database/schema'
import { watchedElements, watchedOfKey } from '../../server/services/drift/watchedElements'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { checkDrift } from '../../server/services/experiments/driftCheck'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { experimentResults } from '../../server/services/results/results'
import { findSiteFile } from '../../server/services/sites/siteFiles'
import { noteFirstReport } from '../../server/services/sites/sites'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { onEmptyPages } from '../triedPages'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const database = connect(ownStack().databaseUrl, 3)
afterAll(() => database.$client.end())

const hide = (id: string, selector: string): Edit => ({ id, kind: 'hide', selector, keepsSpace: false })
const EDITS: Edit[] = [
  { ...hide('edit-lost-1', '#lost'), page: { match: 'exact', value: '/' } },
  hide('edit-there', '#there'),
  { ...hide('edit-off-01', '#off'), isOff: true },
  { id: 'edit-insert', kind: 'insert', selector: 'main', place: 'last', value: '<p id="own">Own</p>' },
  hide('edit-own-01', '#own'),
]

async function running() {
  const team = await createTeam(database)
  const siteId = team.site.id
  await noteFirstReport(database, siteId)
  const { id } = await createExperiment(database, siteId, null, 'Drifting')
  const target = { siteId, experimentId: id, personId: null }
  await fillSheet(database, target, {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric(`Drift orders ${id}`, 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'Warm', weight: 1, edits: EDITS },
    ],
  })
  await moveExperiment(database, target, 'start')
  return { team, siteId, id, target }
}

test('browsers of a share of the visitors look for what edits change, and for nothing that edits bring', async () => {
  const { team, siteId, id, target } = await running()
  const entryOf = async () =>
    (await findSiteFile(database, team.site.key))!.entries.find(({ kind }) => kind === 'drift')
  expect(await entryOf()).toMatchObject({ share: 500, audience: null })
  const [watched] = await watchedOfKey(database, team.site.key)
  expect(watched).toMatchObject({ experiment: id, weights: [1, 1], pages: [{ match: 'exact', value: '/' }] })
  expect(watched!.elements.map(({ edit, variant, page }) => [edit, variant, page?.value ?? null])).toEqual([
    ['edit-lost-1', 1, '/'],
    ['edit-there', 1, null],
    ['edit-insert', 1, null],
  ])
  expect(await watchedOfKey(database, 'no-such-key')).toEqual([])
  const terms = (activation: SheetTerms['activation']) =>
    database
      .update(experiment)
      .set({ terms: { ...PLAIN_TERMS, activation } })
      .where(eq(experiment.id, id))
  await terms({ on: 'call', name: 'offer' })
  expect(await watchedElements(database, siteId)).toEqual([])
  await terms(null)
  await moveExperiment(database, target, 'pause')
  expect([await entryOf(), await watchedElements(database, siteId)]).toEqual([undefined, []])
})

test('what browsers no longer find is drift, once enough of them have looked within a day', async () => {
  const { team, siteId, id, target } = await running()
  const at = Date.now() - 3_600_000
  const told = (visitor: string, lost: string[], byClues: string[], when = at): Happening => ({
    visitor,
    at: when,
    type: 'drift',
    experiment: id,
    properties: { looked: ['edit-lost-1', 'edit-there'], lost, byClues },
  })
  const site = { id: siteId, address: team.site.address }
  const look = async (happenings: Happening[]) => {
    await happen(database, site, happenings)
    await folded(database, siteId)
    await checkDrift(database, target, new Date(), onEmptyPages)
    const { soundness, metrics } = await experimentResults(database, await findSheet(database, siteId, id), new Date())
    // What is told of elements makes nobody take part.
    expect(metrics[0]!.arms.map(({ visitors }) => visitors)).toEqual([TAKING_PART, 0])
    return soundness.flatMap(({ kind, text }) => (kind === 'drift' ? [text] : []))
  }
  // One more whose browser tells, and who does not take part: another page may be before them.
  const TAKING_PART = 25
  const exposed = [...visitors(TAKING_PART - 1), 'visitor-old'].map((visitor): Happening => ({
    visitor,
    at: at - 60_000,
    type: 'exposure',
    experiment: id,
    variant: 0,
  }))
  await happen(database, site, exposed)
  await folded(database, siteId)
  function visitors(count: number): string[] {
    return [...Array(count).keys()].map((index) => `visitor-${index}`)
  }
  const nineteen = visitors(19).map((visitor) => told(visitor, ['edit-lost-1'], []))
  expect(await look([...nineteen, told('visitor-beside', ['edit-lost-1'], [])])).toEqual([])
  // Long ago, twice by the same visitor, and of another experiment: none of it makes them twenty.
  expect(
    await look([
      told('visitor-old', ['edit-lost-1'], [], at - 2 * DAY),
      told('visitor-1', ['edit-lost-1'], []),
      { ...told('visitor-other', ['edit-lost-1'], []), experiment: id + 100_000 },
    ]),
  ).toEqual([])
  const [text, ...more] = await look([told('visitor-20', ['edit-lost-1'], ['edit-there'])])
  expect(text).toMatch(/Warm: .*#lost.* was not on the page for 20 of 20 visitors whose browsers looked lately/)
  expect(more).toEqual([])
  // Whoever has seen it once has it; enough of those, and it is there.
  expect(await look(visitors(3).map((visitor) => told(visitor, [], [])))).toEqual([])
})
