import { isHeldOut } from '../../core/targeting/whyNot'
import type { SiteFileExperiment } from '../../shared/delivery/siteFile'
import { eq } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { PLAIN_TERMS } from '../../core/sheet/terms'
import { decide } from '../../delivery/snippet/decide'
import { connect } from '../../server/database/connect'
import { site } from '../../server/database/schema'
import { createAudience, deleteAudience } from '../../server/services/audiences/savedAudiences'
import { decideFor } from '../../server/services/audiences/dryRun'
import { changesOf } from '../../server/services/changes'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { createExperiment, deleteExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { findSheet } from '../../server/services/experiments/sheet'
import { createHypothesis } from '../../server/services/hypotheses/hypotheses'
import { readThread } from '../../server/services/hypotheses/archiveAnswers'
import { makeExperiment } from '../../server/services/hypotheses/makeExperiment'
import {
  changeRollout,
  findRollout,
  listRollouts,
  rolloutDays,
  startRollout,
} from '../../server/services/rollouts/rollouts'
import { createEnvironment, detachEnvironment } from '../../server/services/sites/environments'
import { findIntakeSite, findSiteFile } from '../../server/services/sites/siteFiles'
import { noteFirstReport, updateSite } from '../../server/services/sites/sites'
import { createHoldout } from '../../server/services/traffic/holdouts'
import { hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { rolloutChangeSchema, rolloutSchema } from '../../shared/rollouts/rollout'
import { folded, happen } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'

const database = connect(ownStack().databaseUrl, 3)
const PHONES = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] } as const
let team: Awaited<ReturnType<typeof createTeam>>
let siteId: number
beforeAll(() => Object.assign(globalThis, { __WITH_RULES__: true }))
afterAll(() => database.$client.end())
beforeEach(async () => {
  team = await createTeam(database)
  siteId = team.site.id
  await noteFirstReport(database, siteId)
})

/** Nothing that is changed here asks for a job. */
const NO_QUEUE = {} as PgBoss
const now = () => new Date()
const targetOf = (experimentId: number) => ({ siteId, experimentId, personId: null })
const all = rolloutSchema.validateSync({})
const fileOf = async (key = team.site.key) => (await findSiteFile(database, key))!
const servedIn = (file: Awaited<ReturnType<typeof fileOf>>, id: number) => file.entries.find((each) => each.id === id)
const experimentsIn = ({ entries }: Awaited<ReturnType<typeof fileOf>>) =>
  entries.flatMap(({ kind, id }) => (kind === 'experiment' ? [id] : []))
let count = 0

/** An experiment on `/` that is running, with a variant that changes the headline. */
async function running(parts: SheetParts = {}, draftId?: number): Promise<number> {
  const id = draftId ?? (await createExperiment(database, siteId, null, `Headline ${++count}`)).id
  const edit = { id: `edit-${id}-0000`, kind: 'text', selector: `#own-${id}`, original: 'a', value: 'b' } as const
  await fillSheet(database, targetOf(id), {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric(`Rollout orders ${id}`, 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'New words', weight: 1, edits: [edit] },
    ],
    terms: PLAIN_TERMS,
    ...parts,
  })
  await moveExperiment(database, targetOf(id), 'start')
  return id
}
async function ended(position = 1, parts: SheetParts = {}): Promise<number> {
  const id = await running(parts)
  const { variants } = await findSheet(database, siteId, id)
  await endExperiment(database, targetOf(id), { variant: variants[position]!.id, reason: 'More orders.', person: null })
  return id
}

test('what is kept is served before what is tested, to the share that is asked for, and taken away again', async () => {
  const experimentId = await ended()
  const tested = await running()
  const made = await startRollout(database, targetOf(experimentId), all, now())
  expect(made).toMatchObject({ experiment: experimentId, variant: { name: 'New words', position: 1, edits: 1 } })
  const file = await fileOf()
  expect(experimentsIn(file)).toEqual([made.id, tested])
  const at = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
  const got = (current: typeof file) =>
    [...Array(1000).keys()].filter((index) =>
      decide(current, `visitor-${index}`, at.address, at).some(
        ({ experiment, edits }) => experiment === made.id && edits.length === 1,
      ),
    ).length
  expect(got(file)).toBe(1000)

  const target = { siteId, rolloutId: made.id, personId: null }
  const fewer = await changeRollout(database, target, { version: made.version, share: 2500 }, now())
  const quarter = got(await fileOf())
  // Four standard deviations of a binomial of 1,000 with 25 %.
  expect(Math.abs(quarter - 250)).toBeLessThan(55)
  await expect(changeRollout(database, target, { version: made.version, isOn: false }, now())).rejects.toThrow(
    'Somebody else has changed this rollout',
  )
  const off = await changeRollout(database, target, { version: fewer.version, isOn: false }, now())
  expect(off).toMatchObject({ isOn: false, share: 2500 })
  expect(experimentsIn(await fileOf())).toEqual([tested])
  await changeRollout(database, target, { version: off.version, isOn: true, share: 10_000 }, now())
  const { items } = await changesOf(database, siteId, { subject: 'rollout', id: made.id }, { limit: 10 })
  expect(items.map(({ words }) => words)).toEqual([
    'served again, served to 100 % of all visitors',
    'stopped',
    'served to 25 % of all visitors',
    'rolled out “New words” to 100 % of all visitors',
  ])
})

test('only a change that an ended experiment keeps is rolled out, once, and its sheet stays while it is served', async () => {
  const open = await running()
  await expect(startRollout(database, targetOf(open), all, now())).rejects.toThrow('End this experiment first')
  const original = await ended(0)
  await expect(startRollout(database, targetOf(original), all, now())).rejects.toThrow('nothing to roll out')
  const experimentId = await ended()
  const both = await Promise.allSettled([1, 2].map(() => startRollout(database, targetOf(experimentId), all, now())))
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
  await expect(deleteExperiment(database, targetOf(experimentId))).rejects.toThrow('Stop its rollout')
  const [own] = await listRollouts(database, siteId, now())
  await changeRollout(database, { siteId, rolloutId: own!.id, personId: null }, { version: 1, isOn: false }, now())
  await deleteExperiment(database, targetOf(experimentId))

  const stranger = await createTeam(database)
  await expect(findRollout(database, stranger.site.id, own!.id, now())).rejects.toThrow('does not exist')
  const foreign = { siteId: stranger.site.id, rolloutId: own!.id, personId: null }
  await expect(changeRollout(database, foreign, { version: 2, isOn: true }, now())).rejects.toThrow('does not exist')
  expect(() => rolloutSchema.validateSync({ share: 0 })).toThrow('To serve it to nobody, stop it.')
  expect(() => rolloutChangeSchema.validateSync({ share: 10_001, version: 1 })).toThrow('100 % at most')
})

test('an end that rolls out is one act: whoever looks finds the experiment or its rollout, and it fails as a whole', async () => {
  const experimentId = await running()
  const { variants } = await findSheet(database, siteId, experimentId)
  const decision = { variant: variants[1]!.id, reason: 'More orders.', person: null }
  const changesIt = ({ entries }: Awaited<ReturnType<typeof fileOf>>) =>
    JSON.stringify(entries).includes(`#own-${experimentId}`)
  let isOver = false
  const looking = (async () => {
    const seen: boolean[] = []
    while (!isOver) seen.push(changesIt(await fileOf()))
    return seen
  })()
  await endExperiment(database, targetOf(experimentId), decision, { share: 10_000, isForEverybody: true })
  expect(changesIt(await fileOf())).toBe(true)
  isOver = true
  const seen = await looking
  expect(seen.length).toBeGreaterThan(0)
  expect(seen.every(Boolean)).toBe(true)

  const original = await running()
  const { variants: own } = await findSheet(database, siteId, original)
  const kept = { ...decision, variant: own[0]!.id }
  await expect(endExperiment(database, targetOf(original), kept, all)).rejects.toThrow('nothing to roll out')
  expect((await findSheet(database, siteId, original)).state).toBe('running')
  await endExperiment(database, targetOf(original), kept)
})

test('nothing is served that an owner has forbidden, and no audience goes that somebody is served by', async () => {
  const phones = await createAudience(database, siteId, null, { name: 'Phones', conditions: PHONES })
  const asked = { join: 'all', of: [{ fact: 'audience', is: 'yes', id: phones.id }] } as const
  const limited = await ended(1, { audience: asked })
  const made = await startRollout(database, targetOf(limited), all, now())
  await changeRollout(database, { siteId, rolloutId: made.id, personId: null }, { version: 1, isOn: false }, now())
  await expect(deleteAudience(database, siteId, null, phones.id)).rejects.toThrow('uses this audience')

  const script = { id: 'edit-script-1', kind: 'script', value: 'go()' } as const
  const scripted = await ended(1, {
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'With code', weight: 1, edits: [script] },
    ],
  })
  await database.update(site).set({ allowsScripts: false }).where(eq(site.id, siteId))
  await expect(startRollout(database, targetOf(scripted), all, now())).rejects.toThrow('forbidden scripts')
  await database.update(site).set({ allowsScripts: true }).where(eq(site.id, siteId))
  await startRollout(database, targetOf(scripted), all, now())
})

test('it goes to the audience of the experiment or to everybody, never to a holdout, and to environments, too', async () => {
  await createHoldout(database, siteId, null, { name: 'Autumn', share: 500, until: '2031-01-01' }, now())
  const experimentId = await ended(1, { audience: PHONES })
  const place = { name: 'staging', address: `https://staging-rollout-${siteId}.example` }
  const [staging] = await createEnvironment(database, siteId, null, place)
  const made = await startRollout(database, targetOf(experimentId), all, now())
  expect(made.holdouts).toEqual(['Autumn'])
  const entry = servedIn(await fileOf(), made.id)
  expect(entry).toMatchObject({ audience: PHONES, holdouts: [{ share: 500 }], weights: [1] })
  expect(servedIn(await fileOf(staging!.key), made.id)).toMatchObject({ audience: PHONES })
  const target = { siteId, rolloutId: made.id, personId: null }
  await changeRollout(database, target, { version: 1, isForEverybody: true }, now())
  for (const key of [team.site.key, staging!.key])
    expect(servedIn(await fileOf(key), made.id)).toMatchObject({ audience: null })

  // Other programs are told the variant under the number that they know.
  const { holdouts = [] } = entry as SiteFileExperiment
  const visitors = Array.from({ length: 20 }, (_, index) => `visitor-of-a-program-${index}`)
  const visitor = visitors.find((each) => !holdouts.some((holdout) => isHeldOut(each, holdout)))!
  const decided = await decideFor(database, siteId, visitor, {}, '/', now())
  expect(decided).toEqual([{ experiment: experimentId, name: made.name, variant: 1, variantName: 'New words' }])
})

test('changes of a rollout, its experiment, the settings and an environment at once wait for each other, and none fails', async () => {
  const experimentId = await ended()
  const made = await startRollout(database, targetOf(experimentId), all, now())
  const rolloutId = made.id
  let { version } = made
  const many = connect(ownStack().databaseUrl, 12)
  try {
    for (let round = 0; round < 8; round++) {
      const address = `https://staging-${round}.example`
      const [environment] = (await createEnvironment(database, siteId, null, { name: 'Staging', address })).slice(-1)
      const all = await Promise.allSettled([
        changeRollout(many, { siteId, rolloutId, personId: null }, { version, share: 1000 + round }, now()),
        fillSheet(many, targetOf(experimentId), { name: `Named ${round}` }),
        detachEnvironment(many, siteId, null, environment!.id),
        updateSite(many, NO_QUEUE, siteId, null, { name: `Site ${round}` }),
      ])
      const failed = all.flatMap((each) => (each.status === 'rejected' ? [String(each.reason)] : []))
      expect(failed).toEqual([])
      version = (await findRollout(database, siteId, rolloutId, now())).version
    }
  } finally {
    await many.$client.end()
  }
})

test('whoever got it is counted by day, and in no experiment', async () => {
  const experimentId = await ended()
  const made = await startRollout(database, targetOf(experimentId), all, now())
  expect((await findIntakeSite(database, team.site.key))!.assignments.get(made.id)).toMatchObject({ weights: [1] })
  const at = Date.now() - 60_000
  const exposure = { type: 'exposure', at, experiment: made.id, variant: 0 } as const
  await happen(database, { id: siteId, address: team.site.address }, [
    { visitor: 'visitor-a', at, path: '/', events: [exposure, { ...exposure, at: at + 1 }] },
    { visitor: 'visitor-b', at, path: '/', events: [exposure] },
    { visitor: 'visitor-c', at, path: '/', events: [] },
  ])
  await folded(database, siteId)
  expect((await findRollout(database, siteId, made.id, now())).visitors).toBe(2)
  const days = await rolloutDays(database, siteId, made.id, now())
  expect(days).toHaveLength(28)
  expect(days.reduce((sum, { visitors }) => sum + visitors, 0)).toBe(2)
})

test('the thread leads to it from the hypothesis, and back', async () => {
  const idea = hypothesisSchema.validateSync({ title: 'New words bring more orders' })
  const { id: hypothesis } = await createHypothesis(database, { siteId, personId: null }, idea)
  const { id: draftId } = await makeExperiment(database, { siteId, hypothesisId: hypothesis, personId: null })
  const experiment = await running({}, draftId)
  const { variants } = await findSheet(database, siteId, experiment)
  await endExperiment(database, targetOf(experiment), { variant: variants[1]!.id, reason: 'Yes.', person: null })
  const { id: rollout } = await startRollout(database, targetOf(experiment), all, now())
  for (const of of [{ hypothesis }, { experiment }, { rollout }])
    expect(await readThread(database, siteId, of)).toMatchObject({
      hypotheses: [{ id: hypothesis }],
      experiments: [{ id: experiment }],
      rollouts: [{ id: rollout, variant: 'New words', isOn: true, share: 10_000 }],
    })
})
