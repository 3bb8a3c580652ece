import { and, desc, eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { variantOf } from '../../core/assignment/assignment'
import { sizeOf } from '../../core/assignment/bucketSpace'
import { personId } from '../../core/identity/personId'
import { PLAIN_TERMS, type SheetTerms } from '../../core/sheet/terms'
import type { Group } from '../../core/targeting/condition'
import { decide } from '../../delivery/snippet/decide'
import { connect } from '../../server/database/connect'
import { changeLog, experiment, experimentSummary, site, visitor } from '../../server/database/schema'
import { dryRunPast, dryRunPersona } from '../../server/services/audiences/dryRun'
import { audienceSize } from '../../server/services/audiences/audienceSize'
import { createPersona } from '../../server/services/audiences/personas'
import {
  createAudience,
  deleteAudience,
  listAudiences,
  listAudienceVersions,
} from '../../server/services/audiences/savedAudiences'
import { updateAudience } from '../../server/services/audiences/updateAudience'
import { changeSheet, fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { preflightReport } from '../../server/services/experiments/preflightReport'
import { findSheet } from '../../server/services/experiments/sheet'
import { findSiteFile } from '../../server/services/sites/siteFiles'
import { noteFirstReport } from '../../server/services/sites/sites'
import { createArchive } from '../../server/services/evidence/archive'
import { createGroup, deleteGroup, listGroups } from '../../server/services/traffic/groups'
import { createHoldout, endHoldout, listHoldouts } from '../../server/services/traffic/holdouts'
import { advanceRamp, followRamps } from '../../server/services/traffic/ramps'
import { inTransaction } from '../../server/database/inTransaction'
import { renewNumbers } from '../../server/services/results/renewNumbers'
import { NEXT_EXPOSED_VISITORS } from '../../server/services/results/queries'
import { experimentResults } from '../../server/services/results/results'
import { eraseVisitor } from '../../server/services/visitors/eraseVisitor'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { lookingWith, onEmptyPages } from '../triedPages'
import { DAY } from '../../core/time/units'

const database = connect(ownStack().databaseUrl, 3)
let team: Awaited<ReturnType<typeof createTeam>>
let siteId: number
beforeAll(() => Object.assign(globalThis, { __WITH_RULES__: true }))
afterAll(() => database.$client.end())
beforeEach(async () => {
  team = await createTeam(database)
  siteId = team.site.id
  await noteFirstReport(database, siteId)
})

const targetOf = (experimentId: number) => ({ siteId, experimentId, personId: null })
let count = 0
/** A draft on a page of its own. */
async function draft(terms: Partial<SheetTerms> = {}, parts: SheetParts = {}): Promise<number> {
  const { id } = await createExperiment(database, siteId, null, `Draft ${++count}`)
  const edit = { id: `edit-${id}-0000`, kind: 'text', selector: `#own-${id}`, original: 'a', value: 'b' } as const
  await fillSheet(database, targetOf(id), {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric(`Orders ${id}`, 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'B', weight: 1, edits: [edit] },
    ],
    terms: { ...PLAIN_TERMS, ...terms },
    ...parts,
  })
  return id
}
const start = (id: number) => moveExperiment(database, targetOf(id), 'start')
const entryOf = async (id: number) => {
  const entries = (await findSiteFile(database, team.site.key))!.entries
  const found = entries.find((each) => each.kind === 'experiment' && each.id === id)
  if (found?.kind !== 'experiment') throw new Error('It does not run.')
  return found
}
const setShare = async (id: number, share: number) => {
  const from = { share: (await findSheet(database, siteId, id)).share }
  const change = { do: 'set', of: { part: 'sheet' }, from, to: { share } } as const
  return changeSheet(database, targetOf(id), { id: crypto.randomUUID(), change })
}

test('a group gives each experiment buckets of its own, from its start to its end, and no more than there are', async () => {
  const [group] = await createGroup(database, siteId, null, { name: 'Booking', kind: 'parts' })
  const terms = { group: group!.id }
  const [one, two, three] = [
    await draft(terms, { share: 4000 }),
    await draft(terms, { share: 5000 }),
    await draft(terms),
  ]
  await start(one)
  await start(two)
  expect((await entryOf(one)).group).toMatchObject({ ranges: [[0, 4000]] })
  expect((await entryOf(two)).group).toMatchObject({ ranges: [[4000, 9000]] })
  await expect(start(three)).rejects.toThrow('10 % of the visitors left')
  const { findings } = await preflightReport(database, siteId, three, new Date(), lookingWith(database, onEmptyPages))
  expect(findings.filter(({ isStop }) => isStop).map(({ text }) => text)).toContainEqual(
    expect.stringContaining('“Booking” has 10 % of the visitors left, and this asks for 100 %'),
  )
  await setShare(three, 1000)
  await start(three)
  // Nobody of 2,000 gets two of them, decided as in a browser.
  const siteFile = (await findSiteFile(database, team.site.key))!
  const at = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
  const decided = [...Array(2000).keys()].map((index) => decide(siteFile, `visitor-${index}`, at.address, at).length)
  expect(Math.max(...decided)).toBe(1)
  expect(decided.filter((each) => each === 1)).toHaveLength(2000)

  await expect(setShare(one, 6000)).rejects.toThrow('at most 40 %')
  await expect(deleteGroup(database, siteId, null, group!.id)).rejects.toThrow('is in this group')
  await endExperiment(database, targetOf(two), { variant: null, reason: '', person: null })
  await setShare(one, 6000)
  const [view] = await listGroups(database, siteId)
  expect(view).toMatchObject({ free: 3000 })
  expect(view!.members.find(({ experiment: id }) => id === one)!.ranges).toEqual([[0, 6000]])
  expect(sizeOf(view!.members.find((each) => each.experiment === three)!.ranges)).toBe(1000)
})

test('two experiments that start at once never get the same buckets', async () => {
  const [group] = await createGroup(database, siteId, null, { name: 'At once', kind: 'parts' })
  const ids = [await draft({ group: group!.id }, { share: 6000 }), await draft({ group: group!.id }, { share: 6000 })]
  const results = await Promise.allSettled(ids.map(start))
  expect(results.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
})

test('experiments that take turns are asked by their places, and know who is in the group', async () => {
  const [group] = await createGroup(database, siteId, null, { name: 'Turns', kind: 'turns' })
  const [later, first] = [await draft({ group: group!.id, rank: 2 }), await draft({ group: group!.id, rank: 1 })]
  await start(later)
  await start(first)
  const { entries } = (await findSiteFile(database, team.site.key))!
  expect(entries.flatMap(({ kind, id }) => (kind === 'experiment' ? [id] : []))).toEqual([first, later])
  expect((await entryOf(first)).group).toEqual({ members: [first, later] })
})

test('a ramp begins with its first share and goes on by itself, once for each of its days', async () => {
  const ramp = [
    { share: 500, days: 2 },
    { share: 2000, days: 3 },
  ]
  const id = await draft({ ramp }, { share: 8000 })
  await start(id)
  const read = () => findSheet(database, siteId, id)
  expect(await read()).toMatchObject({ share: 500, ramp: { step: 0, final: 8000, problem: null } })
  expect((await entryOf(id)).share).toBe(500)
  const from = Date.now()
  await followRamps(database, new Date(from + 1.9 * DAY))
  expect((await read()).share).toBe(500)
  await followRamps(database, new Date(from + 2.1 * DAY))
  await followRamps(database, new Date(from + 2.2 * DAY))
  expect(await read()).toMatchObject({ share: 2000, ramp: { step: 1 } })
  await followRamps(database, new Date(from + 5.2 * DAY))
  expect(await read()).toMatchObject({ share: 8000, ramp: null })
  const [latest] = await database
    .select()
    .from(changeLog)
    .where(and(eq(changeLog.subject, 'experiment'), eq(changeLog.subjectId, id)))
    .orderBy(desc(changeLog.id))
  expect(latest!.words).toBe('Traffic share: 20 % became 80 %, as the ramp said')
})

test('a ramp waits while a guardrail is harmed, says so, and goes on by hand', async () => {
  const id = await draft({ ramp: [{ share: 500, days: 2 }] })
  await start(id)
  const verdict = { kind: 'harm', variant: null, title: 'Stop.', reasons: ['Errors rose.'] }
  const content = { visitors: 9, verdict, best: null, lastDays: [] } as typeof experimentSummary.$inferInsert.content
  const own = and(eq(experimentSummary.siteId, siteId), eq(experimentSummary.experimentId, id))
  await database.update(experimentSummary).set({ content }).where(own)
  await followRamps(database, new Date(Date.now() + 2.1 * DAY))
  expect(await findSheet(database, siteId, id)).toMatchObject({ share: 500, ramp: { problem: 'Stop. Errors rose.' } })
  expect(await advanceRamp(database, targetOf(id), new Date())).toMatchObject({ share: 10_000, ramp: null })
  await expect(advanceRamp(database, targetOf(id), new Date())).rejects.toThrow('no ramp')
})

test('a ramp that goes down keeps from starting', async () => {
  const id = await draft({ ramp: [{ share: 5000, days: 2 }] }, { share: 4000 })
  expect((await findSheet(database, siteId, id)).preflight.map(({ text }) => text)).toEqual([
    'The ramp has 50 % before 40 %: each step must be larger than the one before.',
  ])
})

test('a holdout concerns what starts within its period, and nothing else', async () => {
  const [before, within, after] = [await draft(), await draft(), await draft()]
  await start(before)
  const now = new Date()
  await expect(
    createHoldout(database, siteId, null, { name: 'Past', share: 500, until: '2020-01-01' }, now),
  ).rejects.toThrow('has passed')
  const [made] = await createHoldout(database, siteId, null, { name: 'Autumn', share: 500, until: '2031-01-01' }, now)
  await start(within)
  const { findings } = await preflightReport(database, siteId, after, new Date(), lookingWith(database, onEmptyPages))
  expect(findings.map(({ text }) => text)).toContain('A holdout keeps 5 % of the visitors out of this.')
  await endHoldout(database, siteId, null, made!.id, new Date())
  await expect(endHoldout(database, siteId, null, made!.id, new Date())).rejects.toThrow('ended already')
  await start(after)
  expect((await entryOf(before)).holdouts).toBeUndefined()
  expect((await entryOf(within)).holdouts).toMatchObject([{ share: 500 }])
  expect((await entryOf(after)).holdouts).toBeUndefined()
  const [view] = await listHoldouts(database, siteId, new Date())
  expect(view).toMatchObject({ isOpen: false, experiments: [{ experiment: within }] })
})

const phones: Group = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] }
const tablets: Group = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['tablet'] }] }
const asksFor = (id: number, is: 'yes' | 'no' = 'yes'): Group => ({ join: 'all', of: [{ fact: 'audience', is, id }] })

test('what runs keeps the version of a saved audience that it was started with; drafts get the new one', async () => {
  const saved = await createAudience(database, siteId, null, { name: 'Small', conditions: phones })
  const around = await createAudience(database, siteId, null, { name: 'Around', conditions: asksFor(saved.id) })
  const [running, waiting] = [
    await draft({}, { audience: asksFor(around.id) }),
    await draft({}, { audience: asksFor(saved.id) }),
  ]
  await start(running)
  expect((await entryOf(running)).audience).toEqual({ join: 'all', of: [{ join: 'all', of: [phones] }] })
  const changed = await updateAudience(database, siteId, null, saved.id, { name: 'Small', conditions: tablets })
  expect(changed.version).toBe(2)
  await start(waiting)
  expect(JSON.stringify((await entryOf(running)).audience)).toContain('phone')
  expect((await entryOf(waiting)).audience).toEqual({ join: 'all', of: [tablets] })
  const uses = (await listAudiences(database, siteId)).find(({ id }) => id === saved.id)!.uses
  expect(uses).toContainEqual(expect.objectContaining({ kind: 'experiment', id: running, version: 1 }))
  expect(uses).toContainEqual(expect.objectContaining({ kind: 'experiment', id: waiting, version: 2 }))
  expect(uses).toContainEqual({ kind: 'audience', id: around.id, name: 'Around' })
  expect((await listAudienceVersions(database, siteId, saved.id)).map(({ version }) => version)).toEqual([2, 1])
  await expect(deleteAudience(database, siteId, null, saved.id)).rejects.toThrow('uses this audience')
})

test('audiences in a circle, without conditions, or under a name that is there are refused', async () => {
  const one = await createAudience(database, siteId, null, { name: 'One', conditions: phones })
  const two = await createAudience(database, siteId, null, { name: 'Two', conditions: asksFor(one.id, 'no') })
  const change = (conditions: Group | null, name = 'One') =>
    updateAudience(database, siteId, null, one.id, { name, conditions })
  await expect(change(asksFor(two.id))).rejects.toThrow('in a circle: One → Two → One')
  await expect(change(asksFor(one.id))).rejects.toThrow('in a circle: One → One')
  await expect(change(null)).rejects.toThrow('add a condition')
  await expect(change(phones, 'two')).rejects.toThrow('has this name already')
  await expect(change(asksFor(999_999))).rejects.toThrow('does not exist any more')
})

test('the size of an audience, and what becomes of last week’s visitors, are counted by the very conditions', async () => {
  await database
    .update(site)
    .set({ attributes: ['plan'] })
    .where(eq(site.id, siteId))
  const at = Date.now() - DAY
  const visitors = [...Array(20).keys()].map((index) => ({
    visitor: `v-${index}`,
    at: at + index,
    path: index < 12 ? '/' : '/book',
    view: { device: index % 2 === 0 ? 'phone' : 'desktop' },
  }))
  await happen(database, { id: siteId, address: team.site.address }, visitors)
  await folded(database, siteId)
  const saved = await createAudience(database, siteId, null, { name: 'Phones', conditions: phones })
  const size = await audienceSize(database, siteId, asksFor(saved.id), new Date())
  expect(size).toMatchObject({ visitors: 20, looked: 20, inside: 10, unknown: [] })
  expect(size.keptOut).toEqual([{ words: 'in “Phones”', visitors: 10 }])
  // Whoever is in nobody's numbers, or opens more pages than a person would, is replayed by nobody.
  const of = (id: string) => and(eq(visitor.siteId, siteId), eq(visitor.id, id))
  await database.update(visitor).set({ leftOut: 'pace' }).where(of('v-0'))
  await database.update(visitor).set({ views: 20_000 }).where(of('v-1'))
  expect(await audienceSize(database, siteId, asksFor(saved.id), new Date())).toMatchObject({ visitors: 18, inside: 9 })
  await database.update(visitor).set({ leftOut: null, views: 1 }).where(eq(visitor.siteId, siteId))

  const asked: Group = {
    join: 'all',
    of: [
      { fact: 'attribute', name: 'plan', is: 'known' },
      { fact: 'cookie', name: 'c', is: 'known' },
    ],
  }
  expect((await audienceSize(database, siteId, asked, new Date())).unknown).toEqual(['cookie'])

  const id = await draft({ ramp: [{ share: 1, days: 2 }] }, { audience: asksFor(saved.id) })
  const past = await dryRunPast(database, siteId, id, new Date())
  expect(past).toMatchObject({ visitors: 20, looked: 20, entered: 6, aDay: 6 / 7 })
  expect(Object.fromEntries(past.reasons.map(({ reason, visitors: many }) => [reason, many]))).toEqual({
    page: 8,
    audience: 6,
  })
  expect(past.conditions).toEqual([{ words: 'in “Phones”', visitors: 6 }])
  expect(past.variants.reduce((sum, each) => sum + each.visitors, 0)).toBe(6)
})

test('a persona is told what it would get of what runs and of drafts, with the reasons', async () => {
  const [group] = await createGroup(database, siteId, null, { name: 'Dry', kind: 'parts' })
  const running = await draft({ group: group!.id })
  await start(running)
  const crowded = await draft({ group: group!.id })
  const waiting = await draft({ activation: { on: 'event', name: 'basket' } })
  const forPhones = await draft({}, { audience: phones })
  const persona = await createPersona(database, siteId, null, { name: 'Desk', facts: { device: 'desktop' } })
  const run = await dryRunPersona(database, siteId, persona.facts, persona.visitor, '/', new Date())
  const reasonOf = (id: number) => run.rows.find((row) => row.kind === 'experiment' && row.id === id)
  expect(reasonOf(running)).toMatchObject({
    reason: null,
    state: 'running',
    variant: expect.stringMatching(/Control|B/),
  })
  expect(reasonOf(crowded)).toMatchObject({ reason: 'group', variant: null })
  expect(reasonOf(waiting)).toMatchObject({ reason: 'waits', activation: 'with the event “basket”' })
  expect(reasonOf(forPhones)).toMatchObject({ reason: 'audience', trace: { of: [{ found: 'desktop' }] } })
  await expect(dryRunPersona(database, siteId, {}, 'x', 'http://', new Date())).rejects.toThrow('Type a page')
  const elsewhere = await dryRunPersona(database, siteId, {}, 'x', '/book', new Date())
  expect(elsewhere.rows.every(({ reason }) => reason === 'page')).toBe(true)
})

test('what the site hands on, and which attributes are kept, come with its file', async () => {
  const id = await draft()
  await start(id)
  expect((await entryOf(id)).names).toBeUndefined()
  const handingOn = { list: 'pageData', call: '', event: true }
  await database
    .update(site)
    .set({ handingOn, attributes: ['plan'] })
    .where(eq(site.id, siteId))
  await start(await draft())
  const file = (await findSiteFile(database, team.site.key))!
  expect(file).toMatchObject({ handingOn, attributes: ['plan'] })
  expect((await entryOf(id)).names).toEqual([expect.stringContaining('Draft'), 'Control', 'B'])
})

test('what pages say of visitors tells segments apart, in the report and in its statement alike', async () => {
  await database
    .update(site)
    .set({ attributes: ['plan', 'seats'] })
    .where(eq(site.id, siteId))
  const at = Date.now() - DAY
  const says = (visitor: string, path: string, attributes: Record<string, string | number> | null, minute: number) => ({
    visitor,
    at: at + minute * 60_000,
    path,
    view: { attributes },
  })
  await happen(database, { id: siteId, address: team.site.address }, [
    says('v-1', '/', { plan: 'gold' }, 0),
    says('v-1', '/book', null, 1),
    says('v-2', '/', null, 0),
    says('v-2', '/book', { plan: 'gold', seats: 4 }, 1),
    says('v-3', '/', { plan: 'silver', seats: 4 }, 0),
    says('v-4', '/book', null, 0),
  ])
  await folded(database, siteId)
  const archive = createArchive(database.$client)
  const day = (when: number) => new Date(when).toISOString().slice(0, 10)
  const range = { from: day(at - DAY), to: day(Date.now()) }
  const pagesOf = async (segment: string, page?: string) => {
    const { pages } = await archive.answer(siteId, 'pages', { ...range, segment, page })
    const counted = pages.map(({ page, visitors }) => `${page} ${visitors}`).sort()
    const statement = await archive.statement(siteId, 'pages', { ...range, segment, page })
    const stated = await database.$client.query<{ page: string; visitors: number }>(statement)
    expect(stated.rows.map(({ page, visitors }) => `${page} ${visitors}`).sort()).toEqual(counted)
    return counted
  }
  expect(await pagesOf('attribute:plan%3Dgold')).toEqual(['/ 2', '/book 2'])
  expect(await pagesOf('attribute:seats%3D4')).toEqual(['/ 2', '/book 1'])
  expect(await pagesOf('attribute:seats%3D4,attribute:plan%3Dgold')).toEqual(['/ 1', '/book 1'])
  expect(await pagesOf('attribute:plan%3Dnone')).toEqual([])
  // Pages are chosen by any rule, there and here.
  expect(await pagesOf('device:desktop', 'path.ends.anycase:/BOOK')).toEqual(['/ 2', '/book 3'])
  expect(await pagesOf('device:desktop', 'regex:^/$')).toEqual(['/ 3', '/book 2'])
  const { attributes } = await archive.answer(siteId, 'values', { today: day(Date.now()) })
  expect(attributes.toSorted()).toEqual(['plan=gold', 'plan=silver', 'seats=4'])
})

test('a person is one on every device: the same variant, and what they do anywhere counts once', async () => {
  const counts = { type: 'event', name: 'order' } as const
  const metrics = [
    primaryMetric('Ordered', 'conversion', counts),
    primaryMetric('Amount', 'mean', counts, { role: 'secondary' }),
  ]
  const id = await draft({ unit: 'person' }, { metrics })
  await start(id)
  const file = (await findSiteFile(database, team.site.key))!
  expect(file.persons).toBe(true)
  const person = personId(team.site.key, 'customer-1')
  const { salt, weights } = await entryOf(id)
  const variant = variantOf(person, { salt, weights, share: 0 })
  // A browser whose own id is assigned the other one: only the person decides.
  const other = [...Array(50).keys()]
    .map((n) => `visitor-${n}-unlike`)
    .find((each) => variantOf(each, { salt, weights, share: 0 }) !== variant)!
  const at = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
  expect(decide(file, other, at.address, { ...at, person })).toMatchObject([{ experiment: id, variant }])
  expect(decide(file, other, at.address, at)).toEqual([])

  const began = Date.now() - 3_600_000
  await database
    .update(experiment)
    .set({ startedAt: new Date(began - DAY) })
    .where(eq(experiment.id, id))
  const of = (visitor: string, minute: number, more: Partial<Happening>, named: string | null): Happening => ({
    visitor,
    at: began + minute * 60_000,
    view: { personId: named, device: visitor === other ? 'phone' : 'desktop' },
    ...more,
  })
  const exposure = { type: 'exposure', experiment: id, variant } as const
  const order = (reference: string) => ({ type: 'custom', name: 'order', amount: 10, reference }) as const
  const second = personId(team.site.key, 'customer-2')
  const happenings = [
    // An order before the page named the person is of nobody.
    of(other, 0, order('A'), null),
    of(other, 1, exposure, person),
    of('desk', 2, exposure, person),
    of('desk', 3, order('B'), person),
    // The same order is told again by the other device.
    of(other, 4, order('B'), person),
    of(other, 5, order('C'), person),
    of('somebody', 6, { ...exposure, variant: 1 - variant }, second),
    // Signed out: of nobody again.
    of('somebody', 7, order('D'), null),
  ]
  // Portion by portion, as it comes.
  for (const each of happenings) {
    await happen(database, { id: siteId, address: team.site.address }, [each])
    await folded(database, siteId)
  }
  const read = async () => {
    const results = await experimentResults(database, await findSheet(database, siteId, id), new Date())
    const metric = (name: string) => results.metrics.find((each) => each.metric.name === name)!.arms
    return {
      visitors: results.arms.map(({ visitors }) => visitors),
      orders: metric('Ordered').map(({ sum }) => sum),
      amounts: metric('Amount').map(({ sum }) => sum),
      told: results.soundness.find(({ kind }) => kind === 'persons')?.text,
    }
  }
  const inOrder = <Value>(mine: Value, others: Value) => (variant === 0 ? [mine, others] : [others, mine])
  const expected = {
    visitors: [1, 1],
    orders: inOrder(1, 0),
    amounts: inOrder(20, 0),
    told: expect.stringContaining('1 person of 2 came on more than one device. 1 person had been here before'),
  }
  expect(await read()).toEqual(expected)
  // Computed anew from everything, it is the same.
  await refoldAll(id)
  expect(await read()).toEqual(expected)

  // Reports of visits go on counting browsers, and know who saw the variant.
  const day = (when: number) => new Date(when).toISOString().slice(0, 10)
  const range = { from: day(began - DAY), to: day(Date.now()), segment: `variant:${id}.${variant}` }
  const archive = createArchive(database.$client)
  const { visitors } = await archive.answer(siteId, 'pages', range)
  expect(visitors).toBe(2)
  const stated = await database.$client.query<{ visitors: number }>(await archive.statement(siteId, 'pages', range))
  expect(Math.max(...stated.rows.map((row) => row.visitors))).toBe(2)

  // What the other device did stays, as if this one had never been.
  await eraseVisitor(database, siteId, null, other)
  expect(await read()).toMatchObject({ visitors: inOrder(1, 1), orders: inOrder(1, 0), amounts: inOrder(10, 0) })
  await eraseVisitor(database, siteId, null, 'desk')
  expect((await read()).visitors).toEqual(inOrder(0, 1))
})

async function refoldAll(id: number): Promise<void> {
  const { rows } = await database.$client.query<{ visitor: string }>(NEXT_EXPOSED_VISITORS, [siteId, id, '', 1000])
  const visitors = rows.map(({ visitor }) => visitor)
  await inTransaction(database.$client, async (client) => {
    for (const table of ['visitor_value', 'statistic'])
      await client.query(`DELETE FROM ${table} WHERE site_id = $1 AND experiment_id = $2`, [siteId, id])
    const { rows: metrics } = await client.query<{ id: number }>(
      'SELECT metric_version_id AS id FROM experiment_metric WHERE site_id = $1 AND experiment_id = $2',
      [siteId, id],
    )
    await renewNumbers(
      client,
      siteId,
      id,
      visitors,
      metrics.map((metric) => metric.id),
    )
  })
}
