import { and, eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { dayAfter, firstMoment, siteDays } from '../../core/time/siteDay'
import { connect } from '../../server/database/connect'
import {
  experiment,
  experimentMetric,
  finding,
  hypothesis,
  look,
  metric,
  metricVersion,
  person,
} from '../../server/database/schema'
import { createArchive } from '../../server/services/evidence/archive'
import type { EvidenceThread } from '../../server/services/evidence/askEvidence'
import { copyExperiment, createExperiment } from '../../server/services/experiments/experiments'
import { createFinding, findFinding } from '../../server/services/findings/findings'
import { findSimilar, readThread } from '../../server/services/hypotheses/archiveAnswers'
import { assessIdea } from '../../server/services/hypotheses/assessIdea'
import { mentionedIn } from '../../server/services/accounts/mentions'
import { addComment, deleteComment } from '../../server/services/hypotheses/comments'
import {
  createHypothesis,
  deleteHypothesis,
  findHypothesis,
  listHypotheses,
  restoreHypothesis,
  updateHypothesis,
} from '../../server/services/hypotheses/hypotheses'
import { refreshFigures } from '../../server/services/hypotheses/ideaFigures'
import { makeExperiment } from '../../server/services/hypotheses/makeExperiment'
import { followExperiment, placeByHand, setStage } from '../../server/services/hypotheses/stages'
import { hypothesesTable, importHypotheses } from '../../server/services/hypotheses/table'
import { today } from '../../server/services/today'
import { readPast, updateTerms } from '../../server/services/hypotheses/terms'
import { DEFAULT_TERMS, expectationSchema, hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { learnFromPast } from '../../core/hypotheses/pastLifts'
import { guessMapping, readRow } from '../../shared/hypotheses/hypothesisTable'
import { folded, happen, type Happening } from '../arrivals'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 3)
afterAll(() => database.$client.end())

const NOW = new Date('2026-06-15T10:00:00Z')
let team: Awaited<ReturnType<typeof createTeam>>
let siteId: number
let place: { database: typeof database; evidence: EvidenceThread; siteId: number }
let personId: number
let [orders, money, ratio] = ['', '', '']

beforeAll(async () => {
  const archive = createArchive(database.$client)
  const evidence = {
    ask: (site: number, ask: never, question: never) => archive.answer(site, ask, question),
  } as unknown as EvidenceThread
  place = { database, evidence, siteId: 0 }
})

beforeEach(async () => {
  team = await createTeam(database)
  siteId = team.site.id
  place = { ...place, siteId }
  ;[orders, money, ratio] = [`orders-${siteId}`, `money-${siteId}`, `ratio-${siteId}`]
  const [own] = await database.select().from(person).where(eq(person.email, team.emails.editor))
  personId = own!.id
  const source = { type: 'event', name: 'order' } as const
  const add = async (id: string, name: string, kind: 'conversion' | 'mean' | 'ratio') => {
    await database.insert(metric).values({ id, siteId, name })
    await database
      .insert(metricVersion)
      .values({ siteId, metricId: id, version: 1, kind, source, denominator: kind === 'ratio' ? source : null })
  }
  await add(orders, 'Orders', 'conversion')
  await add(money, 'Revenue', 'mean')
  await add(ratio, 'Orders an order', 'ratio')
})

const target = (hypothesisId: number) => ({ siteId, hypothesisId, personId })
const write = (fields: object) =>
  createHypothesis(database, { siteId, personId }, hypothesisSchema.validateSync(fields))
const refuses = (fields: object) => {
  try {
    hypothesisSchema.validateSync(fields, { abortEarly: false })
    return null
  } catch (error) {
    return (error as { inner: { path: string; message: string }[] }).inner.map(({ path, message }) => [path, message])
  }
}

/** 200 visitors of the last four weeks: every second saw the form on a phone, every fifth of all ordered for 30. */
async function visited(): Promise<void> {
  const { timeZone } = team.site
  const first = firstMoment(dayAfter(siteDays(timeZone)(NOW.getTime()), -28), timeZone)
  const happenings = Array.from({ length: 200 }, (_, index): Happening => {
    const at = first + (index % 28) * DAY + 3_600_000 + index * 1000
    const order = { type: 'custom' as const, at: at + 5000, name: 'order', amount: 30, reference: `R${index}` }
    return {
      visitor: `visitor-${index}`,
      at,
      path: index % 2 === 0 ? '/book' : '/elsewhere',
      view: { sessionId: `session-${index}`, device: index % 4 === 0 ? 'phone' : 'desktop' },
      events: index % 5 === 0 ? [order] : [],
    }
  })
  // Yesterday is the last day that counts: today is not over.
  happenings.push({ visitor: 'today', at: NOW.getTime() - 60_000, path: '/book', view: { sessionId: 'today' } })
  await happen(database, team.site, happenings)
  await folded(database, siteId)
}

test('reach, rate and value are computed, and from them worth and what it costs to learn', async () => {
  await visited()
  const expected = { low: 0, likely: 0.1, high: 0.2, effortDays: 2 }
  const idea = (fields: object) => assessIdea(place, expectationSchema.validateSync({ ...expected, ...fields }), NOW)
  const book = await idea({ pages: 'is:/book', metric: orders })
  expect(book.figures).toMatchObject({ visitors: 100, converters: 20, mean: 0.2, unitValue: 30 })
  // 100 in 28 days, 0.2 of them, for 30 each; a tenth more.
  const asTyped = (100 / 28) * (365.25 / 12) * 0.2 * 30 * 0.1
  expect(book.typedWorth!.money!.expected).toBeCloseTo(asTyped, 6)
  // No test has ended: what was typed is drawn toward no lift.
  expect(book.worth!.money!.expected).toBeCloseTo(asTyped * book.weight!, 6)
  expect(book.weight).toBeLessThan(0.9)
  expect((await idea({ pages: 'is:/book', audience: 'device:phone', metric: orders })).figures.visitors).toBe(50)
  expect((await idea({ metric: orders })).figures).toMatchObject({ visitors: 200, converters: 40 })

  const revenue = await idea({ pages: 'is:/book', metric: money })
  expect(revenue.figures).toMatchObject({ mean: 6, unitValue: 1 })
  // 20 of 100 at 30: variance (20 · 900 − 100 · 36) / 99.
  expect(revenue.figures.deviation).toBeCloseTo(Math.sqrt((20 * 900 - 100 * 36) / 99), 9)
  expect(revenue.worth!.money!.expected).toBeCloseTo(book.worth!.money!.expected, 6)

  expect(book.cost!.weeks).toBeGreaterThan(8)
  expect(book.untestable).toMatch(/^Needs [\d,]+ weeks: test it higher in the funnel/)
  expect((await idea({ pages: 'is:/nowhere', metric: orders })).untestable).toMatch(/^Nobody of this audience/)
  await expect(idea({})).rejects.toThrow(/Choose a metric/)
})

test('figures are computed once for all that share them, some at a time, and anew the next day', async () => {
  await visited()
  for (let index = 0; index < 30; index++)
    await write({ title: `Idea ${index}`, pages: `is:/page-${index}`, metric: orders })
  await write({ title: 'Shares', pages: 'is:/page-1', metric: orders })
  await write({ title: 'Without a metric', pages: 'is:/page-99' })
  expect((await listHypotheses(database, siteId, NOW)).stale).toBe(30)
  expect(await refreshFigures(place, NOW)).toEqual({ done: 25, left: 5 })
  expect(await refreshFigures(place, NOW)).toEqual({ done: 5, left: 0 })
  const listed = await listHypotheses(database, siteId, NOW)
  expect(listed.stale).toBe(0)
  expect(listed.hypotheses.filter(({ assessment }) => assessment === null).map(({ title }) => title)).toEqual([
    'Without a metric',
  ])
  expect((await listHypotheses(database, siteId, new Date(NOW.getTime() + DAY))).stale).toBe(30)
})

test('an audience that asks for what is gone says so, and keeps no other from being computed', async () => {
  await visited()
  const { id: gone } = await write({
    title: 'Gone',
    pages: 'is:/book',
    audience: 'converted:metric-gone',
    metric: orders,
  })
  const { id: fine } = await write({ title: 'Fine', pages: 'is:/book', metric: orders })
  expect(await refreshFigures(place, NOW)).toEqual({ done: 2, left: 0 })
  const { hypotheses } = await listHypotheses(database, siteId, NOW)
  const found = (id: number) => hypotheses.find((each) => each.id === id)!.assessment!
  expect(found(gone).untestable).toMatch(/metric does not exist any more/)
  expect(found(fine).figures.visitors).toBe(100)
})

test('the list is ranked by gain a day; a place by hand holds, with its reason, until it is given back', async () => {
  await visited()
  const common = { pages: 'is:/book', metric: orders, low: 0, high: 0.2 }
  const { id: small } = await write({ ...common, title: 'Small', likely: 0.05, effortDays: 2 })
  const { id: large } = await write({ ...common, title: 'Large', likely: 0.15, effortDays: 2 })
  const { id: free } = await write({ ...common, title: 'Free', likely: 0.01, effortDays: 0 })
  const { id: unknown } = await write({ title: 'Unknown' })
  await refreshFigures(place, NOW)
  const order = async () => (await listHypotheses(database, siteId, NOW)).hypotheses.map(({ id }) => id)
  expect(await order()).toEqual([free, large, small, unknown])
  await placeByHand(database, target(unknown), { place: 2, reason: 'Promised to the captain.' })
  expect(await order()).toEqual([free, unknown, large, small])
  const { hypotheses } = await listHypotheses(database, siteId, NOW)
  expect(hypotheses[1]).toMatchObject({ place: 2, computed: 4, handReason: 'Promised to the captain.' })
  // Who is put to a place that is taken gets it, and what stood there moves on.
  await placeByHand(database, target(small), { place: 2, reason: 'Begun already.' })
  expect(await order()).toEqual([free, small, unknown, large])
  await placeByHand(database, target(small), { place: null, reason: null })
  await placeByHand(database, target(unknown), { place: null, reason: null })
  expect(await order()).toEqual([free, large, small, unknown])

  const criteria = [{ id: 'reach', name: 'Reach', weight: 1 }]
  await updateTerms(database, { siteId, personId }, { ...DEFAULT_TERMS, rankBy: 'score', criteria })
  await updateHypothesis(database, target(unknown), {
    ...hypothesisSchema.validateSync({ title: 'Unknown', scores: { reach: 9 } }),
    version: (await findHypothesis(database, siteId, unknown, null)).version,
  })
  expect((await order())[0]).toBe(unknown)
  // What it is worth stays in sight.
  expect((await listHypotheses(database, siteId, NOW)).hypotheses[0]).toMatchObject({ score: 9, byWorth: 4 })
})

describe('what is written', () => {
  test('takes findings up, and its statement is put together from its parts', async () => {
    const note = { title: 'Phones leave at the length', words: '', severity: 'high' as const, tags: [], page: '/book' }
    const seen = await createFinding(database, siteId, personId, { ...note, frozen: null, pin: null })
    const made = await write({
      title: 'Sizes',
      change: 'three sizes to choose from',
      pages: 'is:/book',
      audience: 'device:phone',

      metric: orders,
      reason: 'nobody has a tape measure',
      findings: [seen.id, seen.id],
    })
    expect(made.assembled).toBe(
      'Because we saw that phones leave at the length, we expect that three sizes to choose from on /book for phones will raise orders, because nobody has a tape measure.',
    )
    expect(await findFinding(database, siteId, seen.id)).toMatchObject({ state: 'taken up', version: 2 })
    const changed = hypothesisSchema.validateSync({ title: 'Sizes', metric: orders, statement: 'Sizes help.' })
    expect(await updateHypothesis(database, target(made.id), { ...changed, version: 1 })).toMatchObject({
      statement: 'Sizes help.',
      findings: [],
      version: 2,
    })
    await expect(updateHypothesis(database, target(made.id), { ...changed, version: 1 })).rejects.toThrow(
      /Somebody else/,
    )
  })

  test('out of order, below zero or half is refused with a sentence at its field', () => {
    const title = 'Any'
    expect(refuses({ title, low: 0.2, likely: 0.1, high: 0.05 })).toEqual([['low', expect.stringMatching(/Swap them/)]])
    expect(refuses({ title, low: 0, likely: 0.3, high: 0.2 })).toEqual([
      ['likely', expect.stringMatching(/above the high/)],
    ])
    expect(refuses({ title, low: 0, likely: '', high: 0.2 })).toEqual([
      ['likely', expect.stringMatching(/a low, a likely/)],
    ])
    expect(refuses({ title, effortDays: -1 })).toEqual([['effortDays', expect.stringMatching(/zero days or more/)]])
    expect(refuses({ title, low: 'x' })).toEqual([['low', expect.stringMatching(/in percent/)]])
    expect(refuses({ title, low: '', likely: '', high: '', effortDays: 0 })).toBeNull()
  })

  test('of another site is refused with its field', async () => {
    const other = await createTeam(database)
    const strange = await createFinding(database, other.site.id, null, {
      title: 'Elsewhere',
      words: '',
      severity: 'low',
      tags: [],
      page: null,
      frozen: null,
      pin: null,
    })
    const [stranger] = await database.select().from(person).where(eq(person.email, other.emails.owner))
    for (const [fields, field] of [
      [{ findings: [strange.id] }, 'findings'],
      [{ owner: stranger!.id }, 'owner'],
      [{ metric: 'metric-of-nobody' }, 'metric'],
      [{ metric: ratio }, 'metric'],
    ] as const)
      await expect(write({ title: 'Any', ...fields })).rejects.toMatchObject({
        status: 422,
        fields: { [field]: expect.any(String) },
      })
  })

  test('is deleted and brought back', async () => {
    const { id } = await write({ title: 'Gone' })
    await deleteHypothesis(database, target(id))
    await expect(findHypothesis(database, siteId, id, null)).rejects.toThrow(/may have been deleted/)
    expect((await listHypotheses(database, siteId, NOW)).hypotheses).toEqual([])
    expect(await restoreHypothesis(database, target(id))).toMatchObject({ title: 'Gone' })
  })
})

describe('stages', () => {
  const stageOf = async (id: number) => (await findHypothesis(database, siteId, id, null)).stage

  test('setting aside and taking up say why; a full stage takes no more', async () => {
    const { id } = await write({ title: 'One' })
    await expect(setStage(database, target(id), { stage: 'set aside', reason: null })).rejects.toThrow(
      /why it is set aside/,
    )
    expect(await setStage(database, target(id), { stage: 'set aside', reason: 'No traffic.' })).toMatchObject({
      stageReason: 'No traffic.',
    })
    await expect(setStage(database, target(id), { stage: 'new', reason: '' })).rejects.toThrow(/taken up again/)
    await setStage(database, target(id), { stage: 'new', reason: 'The season begins.' })
    await updateTerms(
      database,
      { siteId, personId },
      { ...DEFAULT_TERMS, limits: { 'worth testing': 1, 'in test': null } },
    )
    await setStage(database, target(id), { stage: 'worth testing', reason: null })
    const { id: second } = await write({ title: 'Two' })
    await expect(setStage(database, target(second), { stage: 'worth testing', reason: null })).rejects.toThrow(
      /limit is 1/,
    )
    expect(await stageOf(second)).toBe('new')
  })

  test('follow the experiments: in test with the first that starts, learned with the last that ends', async () => {
    const { id } = await write({ title: 'Tested twice' })
    const made = [await makeExperiment(database, target(id)), await makeExperiment(database, target(id))]
    const move = async (index: number, moved: 'start' | 'end') => {
      const experimentId = made[index]!.id
      await database
        .update(experiment)
        .set({ state: moved === 'start' ? 'running' : 'ended' })
        .where(and(eq(experiment.siteId, siteId), eq(experiment.id, experimentId)))
      await database.transaction((tx) => followExperiment(tx, { siteId, experimentId, personId }, moved))
      return stageOf(id)
    }
    expect(await move(0, 'start')).toBe('in test')
    expect(await move(1, 'start')).toBe('in test')
    expect(await move(0, 'end')).toBe('in test')
    expect(await move(1, 'end')).toBe('learned')
  })
})

test('an experiment is made with pages, metric, statement and the likely lift; the thread leads both ways', async () => {
  await visited()
  const note = { title: 'Seen', words: '', severity: 'low' as const, tags: [], page: null, frozen: null, pin: null }
  const seen = await createFinding(database, siteId, personId, note)
  const fields = { title: 'Sizes', change: 'sizes', pages: 'begins:/book', metric: orders, findings: [seen.id] }
  const { id } = await write({ ...fields, low: 0, likely: 0.12, high: 0.2, effortDays: 3 })
  await refreshFigures(place, NOW)
  const sheet = await makeExperiment(database, target(id))
  expect(sheet).toMatchObject({
    name: 'Sizes',
    state: 'draft',
    pageRules: [{ match: 'begins', value: '/book' }],
    hypothesis: expect.stringMatching(/^Because we saw that seen, we expect that sizes/),
    metrics: [{ id: orders, role: 'primary', direction: 'up' }],
    plan: { smallestLift: 0.12, longestWeeks: 26 },
  })
  const thread = {
    findings: [{ id: seen.id, title: 'Seen' }],
    hypotheses: [{ id, title: 'Sizes', stage: 'new' }],
    experiments: [expect.objectContaining({ id: sheet.id, state: 'draft' })],
    rollouts: [],
    worths: [],
  }
  for (const of of [{ finding: seen.id }, { hypothesis: id }, { experiment: sheet.id }])
    expect(await readThread(database, siteId, of)).toEqual(thread)
  const phones = await write({ ...fields, title: 'On phones', audience: 'device:phone,language:en' })
  expect((await makeExperiment(database, target(phones.id))).audience).toMatchObject({
    join: 'all',
    of: [
      { fact: 'device', texts: ['phone'] },
      { fact: 'language', is: 'begins', texts: ['en'] },
    ],
  })
  // A copy tests the same again.
  const copy = await copyExperiment(database, { siteId, experimentId: sheet.id, personId })
  expect((await readThread(database, siteId, { experiment: copy.id })).hypotheses).toEqual(thread.hypotheses)
  const alone = await createExperiment(database, siteId, null, 'Alone')
  expect(await readThread(database, siteId, { experiment: alone.id })).toMatchObject({ hypotheses: [], findings: [] })
})

test('the archive finds what is alike by words in any form, and titles by their letters, of the own site only', async () => {
  const { id } = await write({
    title: 'Choose the size of the vehicle',
    change: 'Three sizes in place of a length in meters',
  })
  const draft = await createExperiment(database, siteId, null, 'Vehicles by size')
  const other = await createTeam(database)
  await createHypothesis(
    database,
    { siteId: other.site.id, personId: null },
    hypothesisSchema.validateSync({ title: 'Choose the size' }),
  )
  const found = await findSimilar(database, siteId, { text: 'choosing vehicle lengths' })
  expect(found.hypotheses.map((each) => each.id)).toEqual([id])
  expect(found.experiments.map((each) => each.id)).toEqual([draft.id])
  expect((await findSimilar(database, siteId, { text: 'Chose teh size of teh vehicel' })).hypotheses).toHaveLength(1)
  expect((await findSimilar(database, siteId, { text: 'newsletter' })).hypotheses).toEqual([])
  // One word of many is no likeness.
  const many = 'A letter to people who chose the newsletter and never opened one'
  expect(await findSimilar(database, siteId, { text: many })).toEqual({ hypotheses: [], experiments: [] })
  expect((await findSimilar(database, siteId, { text: 'vehicle', except: id })).hypotheses).toEqual([])
})

test('what is exported is imported again as it was; rows that are refused are named, and keep no other out', async () => {
  await visited()
  const fields = { title: 'Sizes', change: 'sizes', reason: 'no tape', pages: 'begins:/book', audience: 'device:phone' }
  const expected = { metric: orders, low: -0.02, likely: 0.125, high: 0.2, effortDays: 2.5, strength: 'strong' }
  const { id } = await write({ ...fields, ...expected, tags: ['booking', 'phone'], owner: personId })
  await setStage(database, target(id), { stage: 'worth testing', reason: null })
  await refreshFigures(place, NOW)
  const view = await listHypotheses(database, siteId, NOW)
  const [row] = await hypothesesTable(database, siteId, view)
  expect(row).toMatchObject({ Place: 1, 'Visitors a week': 12.5, 'Likely lift %': 12.5, Owner: 'editor' })
  const cells = Object.values(row!).map((cell) => String(cell ?? ''))
  const read = readRow(cells, guessMapping(Object.keys(row!)), { metrics: view.metrics, people: view.people })
  if (!('input' in read)) throw new Error(read.problems.join(' '))
  expect(read.input).toMatchObject({ ...fields, ...expected, tags: ['booking', 'phone'], stage: 'worth testing' })

  const rows = [read.input, { title: 'Half', low: 0.1 }, { title: 'Elsewhere', metric: 'metric-of-nobody' }, 7]
  const importAs = (options: { isTrial?: boolean; takesRepeated?: boolean }) =>
    importHypotheses(database, { siteId, personId }, rows, options)
  // It is there already, so that it comes in once more only if somebody says so; a trial keeps nothing.
  expect(await importAs({})).toMatchObject({ imported: 0, repeated: [{ row: 0, of: null }] })
  const trial = await importAs({ isTrial: true, takesRepeated: true })
  expect(await listHypotheses(database, siteId, NOW)).toMatchObject({ hypotheses: { length: 1 } })
  const report = await importAs({ takesRepeated: true })
  expect(report).toEqual(trial)
  expect(report).toEqual({
    imported: 1,
    repeated: [{ row: 0, of: null }],
    refused: [
      { row: 1, message: expect.stringMatching(/low, a likely and a high/) },
      { row: 2, message: expect.stringMatching(/metric does not exist/) },
      { row: 3, message: expect.any(String) },
    ],
  })
  expect((await listHypotheses(database, siteId, NOW)).hypotheses.map(({ title, stage }) => [title, stage])).toEqual([
    ['Sizes', 'worth testing'],
    ['Sizes', 'worth testing'],
  ])
})

test('comments mention members by name, and only their author takes them back', async () => {
  await database.update(person).set({ name: 'Mara Quill' }).where(eq(person.email, team.emails.owner))
  const { id } = await write({ title: 'Talked about' })
  const [said] = await addComment(database, target(id), 'What do you think, @mara quill? Not @nobody.')
  expect(said).toMatchObject({ person: 'editor', isOwn: true, mentions: ['Mara Quill'] })
  expect(mentionedIn('@Mara, @Marabel and a@mara.example', [{ id: 1, name: 'Mara' }])).toEqual([1])
  expect(mentionedIn('@Marabel', [{ id: 1, name: 'Mara' }])).toEqual([])
  const [mara] = await database.select().from(person).where(eq(person.email, team.emails.owner))
  const asked = async (who: number, at = new Date()) =>
    (await today(database, siteId, at, who)).needs.filter(({ kind }) => kind === 'mention')
  expect(await asked(mara!.id)).toMatchObject([{ title: 'editor asks you about “Talked about”', text: said!.words }])
  expect([await asked(personId), await asked(mara!.id, new Date(Date.now() + 15 * DAY))]).toEqual([[], []])
  await addComment(database, { ...target(id), personId: mara!.id }, 'Yes.')
  expect(await asked(mara!.id)).toEqual([])
  await expect(deleteComment(database, { ...target(id), personId: personId + 1 }, said!.id)).rejects.toThrow(
    /no such comment/,
  )
  await deleteComment(database, target(id), said!.id)
  expect((await findHypothesis(database, siteId, id, personId)).comments.map(({ words }) => words)).toEqual(['Yes.'])
})

test('what ended experiments achieved is read from their last looks', async () => {
  expect(await readPast(database, siteId)).toMatchObject({ count: 0, mean: 0 })
  const [version] = await database.select().from(metricVersion).where(eq(metricVersion.metricId, orders))
  const half = 0.02 * 1.959963984540054
  for (const [index, lift] of [0.02, 0.04, -0.12].entries()) {
    const { id } = await createExperiment(database, siteId, null, `Past ${index}`)
    await database
      .update(experiment)
      .set({ state: 'ended' })
      .where(and(eq(experiment.siteId, siteId), eq(experiment.id, id)))
    // Of what is to fall, a fall is the better.
    const direction = lift < 0 ? 'down' : 'up'
    await database
      .insert(experimentMetric)
      .values({ siteId, experimentId: id, metricVersionId: version!.id, role: 'primary', direction })
    const row = {
      siteId,
      experimentId: id,
      metricVersionId: version!.id,
      variant: 1,
      asOf: NOW,
      controlVisitors: 1,
      visitors: 1,
    }
    await database.insert(look).values([
      { ...row, day: '2026-06-01', lift: 0.9, fixedLow: 0.8, fixedHigh: 1 },
      { ...row, day: '2026-06-02', lift, fixedLow: lift - half, fixedHigh: lift + half },
    ])
  }
  const past = await readPast(database, siteId)
  const known = learnFromPast([0.02, 0.04, 0.12].map((lift) => ({ lift, standardError: 0.02 })))
  expect([past.count, past.mean, past.deviation]).toEqual([
    3,
    expect.closeTo(known.mean, 9),
    expect.closeTo(known.deviation, 9),
  ])
  expect(await database.select().from(hypothesis).where(eq(hypothesis.siteId, siteId))).toEqual([])
  expect(await database.select().from(finding).where(eq(finding.siteId, siteId))).toEqual([])
})
