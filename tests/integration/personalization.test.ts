import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { SERVING_PLAN } from '../../core/sheet/defaultPlan'
import { heldBackShare } from '../../core/sheet/heldBack'
import { PLAIN_TERMS } from '../../core/sheet/terms'
import { decide } from '../../delivery/snippet/decide'
import { connect } from '../../server/database/connect'
import { fillSheet, type SheetParts } from '../../server/services/experiments/changeSheet'
import { draftPersonalization } from '../../server/services/experiments/draftPersonalization'
import { changesOf } from '../../server/services/changes'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { listExperiments } from '../../server/services/experiments/listExperiments'
import { lookAtTraffic } from '../../server/services/experiments/lookAtTraffic'
import { findMeasuredSheet, findSheet } from '../../server/services/experiments/sheet'
import { dryRunPersona } from '../../server/services/audiences/dryRun'
import { createAudience, deleteAudience } from '../../server/services/audiences/savedAudiences'
import { holds, type Group } from '../../core/targeting/condition'
import { readMarks } from '../../server/services/history/marks'
import { createHypothesis, findHypothesis } from '../../server/services/hypotheses/hypotheses'
import { makeExperiment } from '../../server/services/hypotheses/makeExperiment'
import { picturesOfSheet } from '../../server/services/pictures/variantPictures'
import { listServed, orderServed } from '../../server/services/rollouts/servedOrder'
import { servedBeside } from '../../server/services/rollouts/servedBeside'
import { createHoldout, endHoldout } from '../../server/services/traffic/holdouts'
import { experimentResults } from '../../server/services/results/results'
import { findSiteFile } from '../../server/services/sites/siteFiles'
import { noteFirstReport, updateSite } from '../../server/services/sites/sites'
import { readDeveloperText } from '../../server/services/experiments/readDeveloperText'
import { sitePatchSchema } from '../../shared/sites/site'
import { today } from '../../server/services/today'
import { siteDays } from '../../core/time/siteDay'
import { HOUR } from '../../core/time/units'
import { hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { folded, happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'

const database = connect(ownStack().databaseUrl, 3)
const ORDER = { type: 'event', name: 'order' } as const
const FROM_GERMANY = { join: 'all', of: [{ fact: 'country', is: 'oneOf', texts: ['DE'] }] } as const
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
const edit = (id: number, value = 'Hallo') =>
  ({ id: `edit-${id}-0000`, kind: 'text', selector: `#own-${id}`, original: 'a', value }) as const
let count = 0

/** A personalization of the home page, with all that it needs. */
async function drafted(weights: [number, number] = [500, 9500], parts: SheetParts = {}): Promise<number> {
  const { id } = await createExperiment(database, siteId, null, `Served ${++count}`, 'serve')
  await fillSheet(database, targetOf(id), {
    pageRules: [{ match: 'exact', value: '/' }],
    metrics: [primaryMetric(`Served orders ${id}`, 'conversion', ORDER)],
    variants: [
      { name: 'Held back', weight: weights[0], edits: [] },
      { name: 'Served', weight: weights[1], edits: [edit(id)] },
    ],
    ...parts,
  })
  return id
}
async function running(parts: SheetParts = {}): Promise<number> {
  const { id } = await createExperiment(database, siteId, null, `Tested ${++count}`)
  await fillSheet(database, targetOf(id), {
    pageRules: [{ match: 'exact', value: '/' }],
    plan: PLAN,
    metrics: [primaryMetric(`Tested orders ${id}`, 'conversion', ORDER)],
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'New words', weight: 1, edits: [edit(id)] },
    ],
    ...parts,
  })
  await moveExperiment(database, targetOf(id), 'start')
  return id
}
const textsOf = (findings: readonly { text: string }[]) => findings.map(({ text }) => text).join('\n')

test('a personalization from nothing holds a twentieth back, says what it lacks, and what holding nobody back gives up', async () => {
  const { id } = await createExperiment(database, siteId, null, 'Greeting', 'serve')
  const sheet = await findSheet(database, siteId, id)
  expect(sheet).toMatchObject({ purpose: 'serve', plan: SERVING_PLAN })
  expect(heldBackShare(sheet.variants)).toBe(0.05)
  expect(textsOf(sheet.preflight)).toMatch(
    /Served changes nothing yet[^]*Name the page that it is served on[^]*Choose the metric that it should move/,
  )
  // Nothing of a test is asked for.
  expect(textsOf(sheet.preflight)).not.toMatch(/decides|experiment|compare/)

  const without = await findSheet(database, siteId, await drafted([0, 10_000], { metrics: [] }))
  expect(without.preflight).toEqual([])
  const { findings } = await lookAtTraffic(database, without, new Date())
  expect(textsOf(findings)).toContain('Nobody is held back, so what it does will not be known.')
  const half = await findSheet(database, siteId, await drafted([6000, 4000]))
  expect(textsOf(half.preflight)).toBe('More than half are held back. Lower the share, or make it an experiment.')
})

test('whoever is held back sees the original for good, also once the share is raised, and what is served comes before tests', async () => {
  const tested = await running()
  const id = await drafted([500, 9500], { share: 4000, audience: FROM_GERMANY })
  const started = await moveExperiment(database, targetOf(id), 'start')
  // Every metric of the site measures it, those that nobody put on its sheet as well.
  expect(started.metrics.map(({ name, role }) => [name, role])).toEqual([
    [`Served orders ${id}`, 'primary'],
    [`Tested orders ${tested}`, 'secondary'],
  ])
  const variantsOf = async (isFromGermany: boolean) => {
    const file = (await findSiteFile(database, team.site.key))!
    expect(file.entries.flatMap((each) => (each.kind === 'experiment' ? [each.id] : []))).toEqual([id, tested])
    const at = {
      address: `${team.site.address}/`,
      fulfils: () => isFromGermany,
      isActive: () => true,
      variants: {},
    }
    return [...Array(4000).keys()].map(
      (index) =>
        decide(file, `visitor-${index}`, at.address, at).find(({ experiment }) => experiment === id)?.variant ?? null,
    )
  }
  const few = await variantsOf(true)
  await fillSheet(database, targetOf(id), { share: 10_000 })
  const all = await variantsOf(true)
  expect(all.every((variant) => variant !== null)).toBe(true)
  few.forEach((variant, index) => variant !== null && expect(all[index]).toBe(variant))
  const heldBack = all.filter((variant) => variant === 0).length
  // Four standard deviations of a binomial of 4,000 with 5 %.
  expect(Math.abs(heldBack - 200)).toBeLessThan(56)
  expect(new Set(await variantsOf(false))).toEqual(new Set([null]))
})

test('its effect is that of served against held back, on every metric; nothing waits to be decided, and a harmed guardrail is told', async () => {
  await running({ metrics: [primaryMetric('Helped', 'conversion', { type: 'event', name: 'help' })] })
  const id = await drafted([5000, 5000], {
    metrics: [
      primaryMetric('Orders', 'conversion', ORDER),
      primaryMetric(
        'Given up',
        'conversion',
        { type: 'event', name: 'left' },
        {
          role: 'guardrail',
          direction: 'down',
          limit: 0.1,
        },
      ),
    ],
  })
  await moveExperiment(database, targetOf(id), 'start')
  const at = Date.now()
  const visits = [...Array(2000).keys()].flatMap((index): Happening[] => {
    const [visitor, variant] = [`visitor-${index}`, index % 2]
    const does = (name: string, of: number, below: number) =>
      (index >> 1) % of < below ? [{ visitor, at: at + 1000, type: 'custom', name } as const] : []
    return [
      { visitor, at, type: 'exposure', experiment: id, variant, path: '/' },
      ...does('order', 10, variant === 1 ? 4 : 2),
      ...does('help', 20, 3),
      ...does('left', 10, variant === 1 ? 5 : 2),
    ]
  })
  await happen(database, team.site, visits)
  await folded(database, siteId)
  const sheet = await findSheet(database, siteId, id)
  const results = await experimentResults(database, sheet, new Date(at + HOUR))
  expect(results.metrics.map(({ metric, comparisons }) => [metric.name, comparisons[0]!.lift.estimate])).toEqual([
    ['Orders', expect.closeTo(1, 10)],
    ['Given up', expect.closeTo(1.5, 10)],
    ['Helped', expect.closeTo(0, 10)],
  ])
  const { rows } = await database.execute<{ variant: number; visitors: number; orders: number }>(sql`
    SELECT x.variant, count(*)::int AS visitors,
      count(*) FILTER (WHERE EXISTS (SELECT FROM event o WHERE o.site_id = ${siteId} AND o.visitor_id = x.visitor_id
        AND o.name = 'order'))::int AS orders
    FROM event x WHERE x.site_id = ${siteId} AND x.type = 'exposure' AND x.experiment_id = ${id}
    GROUP BY x.variant ORDER BY x.variant`)
  expect(results.metrics[0]!.arms.map(({ visitors, sum: orders }, variant) => ({ variant, visitors, orders }))).toEqual(
    rows,
  )
  expect(results.verdict).toMatchObject({ kind: 'harm', variant: 'Served' })

  // Without harm there is no verdict, however clear the lift is.
  const calm = await drafted([5000, 5000])
  await moveExperiment(database, targetOf(calm), 'start')
  await happen(
    database,
    team.site,
    visits.flatMap((each) => (each.type === 'exposure' ? [{ ...each, experiment: calm }] : [])),
  )
  await happen(
    database,
    team.site,
    visits.flatMap((each) => (each.name === 'order' ? [{ ...each, at: each.at + 60_000 }] : [])),
  )
  await folded(database, siteId)
  const other = await experimentResults(database, await findSheet(database, siteId, calm), new Date(at + HOUR))
  expect(other.metrics[0]!.comparisons[0]!.sequential.pValue).toBeLessThan(0.001)
  expect(other.verdict).toBeNull()
})

test('what is served is applied in the order that is set, winners and personalizations alike, and tests come after it', async () => {
  const winner = await running()
  const { variants } = await findSheet(database, siteId, winner)
  const decision = { variant: variants[1]!.id, reason: 'More orders.', person: null }
  await endExperiment(database, targetOf(winner), decision, { share: 10_000, isForEverybody: false })
  const [one, other] = [await drafted(), await drafted()]
  for (const id of [one, other]) await moveExperiment(database, targetOf(id), 'start')
  const tested = await running()
  const order = async () => (await listServed(database, siteId)).map(({ id }) => id)
  const inFile = async () =>
    (await findSiteFile(database, team.site.key))!.entries.flatMap(({ kind, id }) =>
      kind === 'experiment' ? [id] : [],
    )
  const [rolledOut] = await order()
  expect(await order()).toEqual([rolledOut, one, other])
  await orderServed(database, siteId, null, [other, rolledOut!, one])
  expect(await order()).toEqual([other, rolledOut, one])
  expect(await inFile()).toEqual([other, rolledOut, one, tested])
  const { rows } = await dryRunPersona(database, siteId, {}, 'visitor-1', '/', new Date())
  expect(rows.flatMap(({ kind, id }) => (kind === 'experiment' || kind === 'rollout' ? [id] : []))).toEqual([
    other,
    rolledOut,
    one,
    tested,
  ])
  expect(
    (await servedBeside(database, siteId, tested)).map(({ edits }) => 'selector' in edits[0]! && edits[0]!.selector),
  )
    // As most visitors have it, in that order.
    .toEqual([`#own-${other}`, `#own-${winner}`, `#own-${one}`])
  // Somebody has stopped one meanwhile, or names one twice, or one of another site.
  for (const wrong of [
    [other, rolledOut!],
    [one, one, other],
    [one, other, tested],
  ])
    await expect(orderServed(database, siteId, null, wrong)).rejects.toThrow('Something else is served by now')
  const later = await drafted()
  await moveExperiment(database, targetOf(later), 'start')
  expect(await order()).toEqual([other, rolledOut, one, later])
  const { items } = await changesOf(database, siteId, { subject: 'site', id: siteId }, { limit: 1 })
  expect(items[0]!.words).toMatch(/^served in this order: Served \d+, Tested \d+, Served \d+$/)
})

test('pages are shown with what most visitors are served beside a sheet: in pictures, and wherever they are pointed at', async () => {
  const on = async (weights: [number, number], parts: SheetParts = {}) => {
    const id = await drafted(weights, parts)
    await moveExperiment(database, targetOf(id), 'start')
    return id
  }
  const tested = await drafted()
  const toAll = await on([500, 9500])
  await on([500, 9500], { share: 4000 })
  await on([500, 9500], { audience: FROM_GERMANY })
  await on([500, 9500], { terms: { ...PLAIN_TERMS, apartFrom: [tested] } })
  const winner = await running()
  const { variants } = await findSheet(database, siteId, winner)
  const decision = { variant: variants[1]!.id, reason: 'More orders.', person: null }
  await endExperiment(database, targetOf(winner), decision, { share: 10_000, isForEverybody: false })
  const beside = await servedBeside(database, siteId, tested)
  expect(beside.map(({ edits }) => edits)).toEqual(
    [winner, toAll].map((id) => [{ kind: 'text', selector: `#own-${id}`, value: 'Hallo' }]),
  )
  // Nothing is shown under itself.
  expect((await servedBeside(database, siteId, toAll)).map(({ name }) => name)).not.toContain(beside[1]!.name)

  const pictures = async () =>
    (await picturesOfSheet(database, targetOf(tested), 'en', [{ address: `${team.site.address}/`, views: 5 }])).wanted
  const before = await pictures()
  const selectorsOf = ({ edits }: (typeof before)[number]) =>
    edits.map((each) => ('selector' in each ? each.selector : ''))
  expect(selectorsOf(before[0]!)).toEqual([`#own-${winner}`, `#own-${toAll}`])
  expect(selectorsOf(before[1]!)).toEqual([`#own-${winner}`, `#own-${toAll}`, `#own-${tested}`])
  // What is served no longer makes pictures out of date that show it.
  await moveExperiment(database, targetOf(toAll), 'end')
  const after = await pictures()
  expect(selectorsOf(after[1]!)).toEqual([`#own-${winner}`, `#own-${tested}`])
  expect(after[1]!.digest).not.toBe(before[1]!.digest)
})

test('what an experiment keeps is served from its end on, and those held back were in its control', async () => {
  const start = Date.now()
  const [holdout] = await createHoldout(
    database,
    siteId,
    null,
    { name: 'Autumn', share: 500, until: '2031-01-01' },
    new Date(),
  )
  const id = await running()
  await endHoldout(database, siteId, null, holdout!.id, new Date())
  const { variants } = await findSheet(database, siteId, id)
  const decision = { variant: variants[1]!.id, reason: 'More orders.', person: null }
  const file = async () => (await findSiteFile(database, team.site.key))!
  const at = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
  const changedOf = (current: Awaited<ReturnType<typeof file>>) =>
    [...Array(1000).keys()].map((index) =>
      decide(current, `visitor-${index}`, at.address, at).some(({ edits }) => edits.length > 0),
    )
  const before = changedOf(await file())
  const rollout = { share: 10_000, isForEverybody: true, heldBack: 1000 }
  // The original is nothing that could be served, and then nothing ends.
  await expect(
    endExperiment(database, targetOf(id), { ...decision, variant: variants[0]!.id }, rollout),
  ).rejects.toThrow('Choose a variant that changes something')
  expect((await findSheet(database, siteId, id)).state).toBe('running')

  await endExperiment(database, targetOf(id), decision, rollout)
  const after = changedOf(await file())
  expect(before.some((had, index) => had && !after[index])).toBe(false)
  // A tenth held back, and of these and the others a twentieth held out: four standard deviations.
  expect(Math.abs(after.filter(Boolean).length - 855)).toBeLessThan(45)
  const { items } = await listExperiments(database, siteId, { purpose: 'serve', limit: 10 })
  expect(items).toMatchObject([{ state: 'running', servedFrom: id, startedAt: expect.any(String) }])
  expect(Date.parse(items[0]!.startedAt!)).toBeGreaterThanOrEqual(start)
  const entry = (await file()).entries.find((each) => each.kind === 'experiment' && each.id === items[0]!.id)
  // The holdout has ended, and keeps its visitors from what it kept them from before.
  expect(entry).toMatchObject({ weights: [1000, 9000], holdouts: [{ share: 500 }] })
  const sheet = await findSheet(database, siteId, items[0]!.id)
  expect(sheet.plan).toMatchObject({ baseline: PLAN.baseline, plannedVisitors: expect.any(Number) })
  const { rows } = await dryRunPersona(database, siteId, {}, 'visitor-1', '/', new Date())
  expect(rows.find((row) => row.id === sheet.id)?.variant !== undefined).toBe(true)
})

test('of several wordings the first that fits is shown, all are measured as one, and a saved audience that one asks for stays', async () => {
  const german = await createAudience(database, siteId, null, { name: 'Germans', conditions: FROM_GERMANY })
  const asks = { join: 'all', of: [{ fact: 'audience', is: 'yes', id: german.id }] } as const
  const id = await drafted()
  const [control, hallo] = (await findSheet(database, siteId, id)).variants
  const variants = [
    control!,
    { ...hallo!, audience: null },
    { name: 'Salut', weight: 0, audience: asks, edits: [edit(9, 'Salut')] },
  ]
  const shut = await fillSheet(database, targetOf(id), { variants })
  expect(textsOf(shut.preflight)).toContain('“Served” is for everybody, so that nobody gets “Salut”.')
  const inOrder = await fillSheet(database, targetOf(id), {
    variants: [control!, shut.variants[2]!, { ...shut.variants[1]!, audience: { join: 'none', of: [asks] } }],
  })
  expect(inOrder.preflight).toEqual([])
  await expect(deleteAudience(database, siteId, null, german.id)).rejects.toThrow('uses this audience')

  await moveExperiment(database, targetOf(id), 'start')
  const file = (await findSiteFile(database, team.site.key))!
  const entry = file.entries.find((each) => each.kind === 'experiment' && each.id === id)
  expect(entry).toMatchObject({ weights: [500, 9500], edits: [[], [{ value: 'Salut' }], [{ value: 'Hallo' }]] })
  const shownTo = (isGerman: boolean) => {
    const facts = { now: 0, country: isGerman ? 'DE' : 'IE' }
    const at = {
      address: `${team.site.address}/`,
      fulfils: (audience: Group) => holds(audience, facts),
      isActive: () => true,
      variants: {},
    }
    const found = [...Array(400).keys()].flatMap((index) => decide(file, `visitor-${index}`, at.address, at))
    return new Set(found.map(({ variant, edits }) => `${variant} ${edits.map((each) => JSON.stringify(each)).join()}`))
  }
  // Where the place is being looked up, no wording is shown before another would fit first.
  const unknown = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
  expect(decide(file, 'visitor-1', unknown.address, { ...unknown, waits: () => true })).toEqual([])
  for (const [isGerman, words] of [
    [true, 'Salut'],
    [false, 'Hallo'],
  ] as const) {
    const shown = [...shownTo(isGerman)].sort()
    expect(shown).toEqual(['0 ', expect.stringContaining(words)])
    expect(shown[1]).toMatch(/^1 /)
  }
  // A wording for everybody behind it: the saved audience keeps the version that it was started with.
  const other = await drafted([500, 9500], {
    variants: [
      { name: 'Held back', weight: 500, edits: [] },
      { name: 'Moin', weight: 9500, audience: asks, edits: [edit(10, 'Moin')] },
      { name: 'Hello', weight: 0, edits: [edit(10, 'Hello')] },
    ],
  })
  await moveExperiment(database, targetOf(other), 'start')
  const { entries } = (await findSiteFile(database, team.site.key))!
  expect(entries.find((each) => each.kind === 'experiment' && each.id === other)).toMatchObject({
    audience: null,
    wordings: [{ join: 'all', of: [FROM_GERMANY] }, null],
  })
  await moveExperiment(database, targetOf(other), 'end')
  // Persons who look beforehand are told the wording, too.
  const look = async (country: string) => {
    const { rows } = await dryRunPersona(database, siteId, { country }, 'visitor-1', '/', new Date())
    return rows.find((row) => row.id === id)?.variant
  }
  expect([await look('DE'), await look('IE')]).toEqual(['Salut', 'Served'])

  const at = Date.now()
  await happen(
    database,
    team.site,
    [0, 1, 1].map((variant, index) => {
      return { visitor: `visitor-${index}`, at, type: 'exposure', experiment: id, variant, path: '/' } as const
    }),
  )
  await folded(database, siteId)
  const results = await experimentResults(database, await findMeasuredSheet(database, siteId, id), new Date(at + HOUR))
  expect(results.arms).toEqual([
    { name: 'Held back', visitors: 1 },
    { name: 'Served', visitors: 2 },
  ])
})

test('beside a running test it is in all variants of the test, or keeps out of its way; an element that both change is told', async () => {
  const tested = await running({ share: 4000 })
  const id = await drafted()
  const draft = await findSheet(database, siteId, id)
  const same = await fillSheet(database, targetOf(id), {
    variants: [draft.variants[0]!, { ...draft.variants[1]!, edits: [edit(tested)] }],
  })
  await happen(database, team.site, [{ visitor: 'somebody', at: Date.now() - HOUR, path: '/' }])
  const told = async () =>
    textsOf((await lookAtTraffic(database, await findSheet(database, siteId, id), new Date())).findings)
  expect(await told()).toMatch(/is running and changes the same element/)
  await fillSheet(database, targetOf(id), { terms: { ...same.terms, apartFrom: [tested] } })
  expect(await told()).not.toMatch(/is running and changes/)
  expect(await told()).toMatch(/“Tested \d+” takes 40 % of the visitors. This is for the others/)

  const decided = async () => {
    const file = (await findSiteFile(database, team.site.key))!
    const at = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
    return [...Array(1000).keys()].map((index) => {
      const own = decide(file, `visitor-${index}`, at.address, at).map(({ experiment }) => experiment)
      return `${own.includes(id) ? 'served' : ''} ${own.includes(tested) ? 'tested' : ''}`
    })
  }
  await moveExperiment(database, targetOf(id), 'start')
  const apart = await decided()
  expect(new Set(apart)).toEqual(new Set(['served ', ' tested']))
  // Four standard deviations of a binomial of 1,000 with 40 %.
  expect(Math.abs(apart.filter((each) => each === ' tested').length - 400)).toBeLessThan(62)
  const { rows } = await dryRunPersona(database, siteId, {}, `visitor-${apart.indexOf(' tested')}`, '/', new Date())
  expect(rows.find((row) => row.id === id)?.reason).toBe('test')
  // A test that is paused keeps its visitors for when it goes on.
  await moveExperiment(database, targetOf(tested), 'pause')
  expect((await decided()).map((each) => each === 'served ')).toEqual(apart.map((each) => each === 'served '))
  await moveExperiment(database, targetOf(tested), 'resume')
  // Once the test has ended, everybody gets it.
  await moveExperiment(database, targetOf(tested), 'end')
  expect(new Set(await decided())).toEqual(new Set(['served ']))

  const other = await running({ share: 4000 })
  const included = await drafted([5000, 5000])
  await moveExperiment(database, targetOf(included), 'start')
  const file = (await findSiteFile(database, team.site.key))!
  const at = { address: `${team.site.address}/`, fulfils: () => true, isActive: () => true, variants: {} }
  const cells = new Map<string, number>()
  for (let index = 0; index < 4000; index++) {
    const own = new Map(
      decide(file, `visitor-${index}`, at.address, at).map(({ experiment, variant }) => [experiment, variant]),
    )
    const key = `${own.get(other) ?? '-'} ${own.get(included)}`
    cells.set(key, (cells.get(key) ?? 0) + 1)
  }
  // Served and held back alike in each variant of the test, within four standard deviations.
  for (const [key, expected] of [
    ['0 0', 400],
    ['0 1', 400],
    ['1 0', 400],
    ['1 1', 400],
  ] as const)
    expect(Math.abs((cells.get(key) ?? 0) - expected), key).toBeLessThan(76)
  // A test that comes later is told of what is served on its page.
  const draftTest = await createExperiment(database, siteId, null, 'Later')
  const later = await fillSheet(database, targetOf(draftTest.id), {
    pageRules: [{ match: 'exact', value: '/' }],
    variants: [draftTest.variants[0]!, { ...draftTest.variants[1]!, edits: [edit(included)] }],
  })
  const { findings } = await lookAtTraffic(database, later, new Date())
  expect(textsOf(findings)).toMatch(/is served on these pages and changes the same element/)
})

test('a test that takes everybody leaves nobody, which keeps from starting', async () => {
  const tested = await running()
  const id = await drafted()
  const { terms } = await findSheet(database, siteId, id)
  await fillSheet(database, targetOf(id), { terms: { ...terms, apartFrom: [tested] } })
  await expect(moveExperiment(database, targetOf(id), 'start')).rejects.toThrow(
    'takes all visitors, so that nobody is left',
  )
})

test('what has been served for long is brought up on Today, with a text for developers that says what to build', async () => {
  const id = await drafted([500, 9500], { audience: FROM_GERMANY })
  await moveExperiment(database, targetOf(id), 'start')
  const served = async (days: number) => {
    const { needs } = await today(database, siteId, new Date(Date.now() + days * 24 * HOUR))
    return needs.filter(({ kind }) => kind === 'served')
  }
  expect(await served(89)).toEqual([])
  expect(await served(91)).toMatchObject([
    {
      title: expect.stringMatching(/^Served \d+ has been served for 91 days$/),
      link: `/sites/${siteId}/experiments/${id}`,
    },
  ])
  await updateSite(database, {} as never, siteId, null, { servedDays: 30 })
  expect(await served(31)).toHaveLength(1)
  await expect(sitePatchSchema.validate({ servedDays: 3 })).rejects.toThrow('7 days or more')
  const text = await readDeveloperText(database, siteId, id)
  expect(text).toContain(`- Visitors: country is DE`)
  expect(text).toContain(
    `- Element: \`#own-${id}\`\n\nBefore:\n\n\`\`\`text\na\n\`\`\`\n\nAfter:\n\n\`\`\`text\nHallo\n\`\`\``,
  )
  await expect(readDeveloperText(database, siteId, id, 7)).rejects.toThrow('There is no such variant')
  const stranger = await createTeam(database)
  await expect(readDeveloperText(database, stranger.site.id, id)).rejects.toThrow('does not exist on this site')
  await moveExperiment(database, targetOf(id), 'pause')
  expect(await served(91)).toEqual([])
})

test('from a variant of a running experiment a draft is made, which is its own and starts nothing', async () => {
  const tested = await running({ audience: FROM_GERMANY, terms: { ...PLAIN_TERMS, ramp: [{ share: 1000, days: 2 }] } })
  const before = await findSheet(database, siteId, tested)
  const draft = await draftPersonalization(database, targetOf(tested), before.variants[1]!.id)
  expect(draft).toMatchObject({
    purpose: 'serve',
    state: 'draft',
    name: `${before.name}: New words`,
    audience: FROM_GERMANY,
    terms: PLAIN_TERMS,
    preflight: [],
  })
  expect(draft.variants.map(({ name, weight }) => [name, weight])).toEqual([
    ['Held back', 500],
    ['New words', 9500],
  ])
  expect(draft.variants[1]!.edits).toEqual([{ ...before.variants[1]!.edits[0], id: expect.any(String) }])
  expect(await findSheet(database, siteId, tested)).toEqual(before)
  // What cannot be drafted leaves nothing behind.
  const scripted = await running({
    variants: [
      { name: 'Control', weight: 1, edits: [] },
      { name: 'Script', weight: 1, edits: [{ id: 'edit-script', kind: 'script', value: 'document.title = "x"' }] },
    ],
  })
  await updateSite(database, {} as never, siteId, null, { allowsScripts: false })
  const [, script] = (await findSheet(database, siteId, scripted)).variants
  await expect(draftPersonalization(database, targetOf(scripted), script!.id)).rejects.toThrow('forbidden scripts')
  expect((await listExperiments(database, siteId, { purpose: 'serve', limit: 10 })).items.map(({ id }) => id)).toEqual([
    draft.id,
  ])
  await expect(draftPersonalization(database, targetOf(tested), before.variants[0]!.id)).rejects.toThrow(
    'Choose a variant that changes something.',
  )
  const stranger = await createTeam(database)
  await expect(
    draftPersonalization(database, { ...targetOf(tested), siteId: stranger.site.id }, before.variants[1]!.id),
  ).rejects.toThrow('does not exist on this site')
})

test('a hypothesis that is served does not count as being tested, and lists of experiments do not hold it', async () => {
  const idea = await createHypothesis(
    database,
    { siteId, personId: null },
    hypothesisSchema.validateSync({ title: 'Greeting by name' }),
  )
  const target = { siteId, hypothesisId: idea.id, personId: null }
  const { id } = await makeExperiment(database, target, 'serve')
  await fillSheet(database, targetOf(id), {
    metrics: [primaryMetric('Greeted orders', 'conversion', ORDER)],
    variants: [
      { name: 'Held back', weight: 1000, edits: [] },
      { name: 'Served', weight: 9, edits: [edit(id)] },
    ],
  })
  await moveExperiment(database, targetOf(id), 'start')
  expect((await findHypothesis(database, siteId, idea.id, null)).stage).toBe('new')
  const tested = await running()
  const idsOf = async (purpose?: 'serve') =>
    (await listExperiments(database, siteId, { purpose, limit: 10 })).items.map((each) => each.id)
  expect([await idsOf(), await idsOf('serve')]).toEqual([[tested], [id]])
  expect((await today(database, siteId, new Date())).live.map((each) => each.id)).toEqual([tested])

  await endExperiment(database, targetOf(id), { variant: null, reason: 'The site says so itself.', person: null })
  const { items } = await changesOf(database, siteId, { subject: 'experiment', id }, { limit: 1 })
  expect(items[0]).toMatchObject({ action: 'ended', words: 'stopped: The site says so itself.' })
  const day = siteDays(team.site.timeZone)(Date.now())
  const marks = await readMarks(database, siteId, { from: day, to: day })
  expect(marks.map(({ kind, title, words }) => [kind, title, words])).toEqual([
    ['rollout', 'Greeting by name', 'is served'],
    ['start', expect.stringMatching(/^Tested/), 'started'],
    ['rollout', 'Greeting by name', 'is no longer served'],
  ])
})
