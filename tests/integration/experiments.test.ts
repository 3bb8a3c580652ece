import type { ChangeView, ExperimentSheet, ExperimentSummary } from '../../shared/experiments/replies'
import type { TodayView } from '../../shared/sites/replies'
import { randomUUID } from 'node:crypto'
import { setTimeout as wait } from 'node:timers/promises'
import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { exposureCount, experiment, site, siteFile as siteFileTable } from '../../server/database/schema'
import { refreshSummaries } from '../../server/services/results/summaries'
import { noteFirstReport } from '../../server/services/sites/sites'
import type { Paged } from '../../shared/api/paging'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { drawThingId } from '../../shared/thingId'
import { PLAN, primaryMetric } from '../metrics'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
let editor: Awaited<ReturnType<typeof callerOf>>
let sheet: ExperimentSheet

const path = () => `/api/sites/${team.site.id}/experiments`
const own = (end = '') => `${path()}/${sheet.id}${end}`
const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
const newContent = () => ({
  hypothesis: 'Because we saw it.',
  pageRules: [{ id: 'start-page', match: 'exact' as const, value: '/' }],
  variants: [
    { id: 'variant-a', name: 'Control', weight: 1, edits: [] },
    { id: 'variant-b', name: 'New headline', weight: 3, edits: [edit] },
  ],
  metrics: [primaryMetric('Orders', 'conversion', { type: 'click', selector: '#order' })],
  plan: { ...PLAN, smallestLift: 0.1 },
})
let content = newContent()

const change = (made: object, id = randomUUID()) => editor('POST', own('/changes'), { id, change: made })
/** Replaces whole parts of the sheet, on top of those of `read`. */
async function patch(parts: object, read: ExperimentSheet = sheet): Promise<Response> {
  const from = Object.fromEntries(Object.keys(parts).map((part) => [part, Reflect.get(read, part)]))
  const reply = await change({ do: 'replace', from, to: parts })
  if (reply.ok) sheet = await reply.clone().json()
  return reply
}
async function move(transition: string): Promise<number> {
  const reply = await editor('POST', own(`/${transition}`))
  if (reply.ok) sheet = await reply.json()
  return reply.status
}
/** What browsers get, once it is what was compiled last: the application remembers a site file for a second. */
const siteFile = async () => {
  const [compiled] = await database
    .select({ version: siteFileTable.version })
    .from(siteFileTable)
    .where(eq(siteFileTable.siteId, team.site.id))
  let file: SiteFile
  do file = (await (await fetch(`${url}/s/${team.site.key}.json`)).json()) as SiteFile
  while (file.version < compiled!.version && (await wait(50, true)))
  return file
}

beforeAll(async () => {
  team = await createTeam(database)
  editor = await callerOf(url, team.emails.editor)
  await noteFirstReport(database, team.site.id)
})
afterAll(() => database.$client.end())
beforeEach(async () => {
  content = newContent()
  sheet = await (await editor('POST', path(), { name: 'An experiment' })).json()
})

test('a draft begins with a control and a variant, and preflight says what is missing', () => {
  expect(sheet).toMatchObject({ name: 'An experiment', state: 'draft', version: 1, share: 10_000, metrics: [] })
  expect(sheet.variants.map(({ name, weight }) => [name, weight])).toEqual([
    ['Control', 1],
    ['Variant B', 1],
  ])
  expect(sheet.preflight.map(({ section }) => section)).toEqual(['what', 'who', 'measured'])
})

test('parts are saved one by one and read back as they were', async () => {
  await patch({ pageRules: content.pageRules })
  await patch({ variants: content.variants })
  await patch({ metrics: content.metrics, plan: content.plan })
  await patch({ metrics: [{ ...content.metrics[0]!, name: 'Orders, renamed' }] })
  const read: ExperimentSheet = await (await editor('GET', own())).json()
  expect(read).toMatchObject({
    pageRules: content.pageRules,
    variants: content.variants,
    plan: content.plan,
    version: 5,
    preflight: [],
  })
  expect(read.metrics).toMatchObject([{ name: 'Orders, renamed', source: content.metrics[0]!.source }])
})

test('metrics keep their place: the primary one first, those left out gone, the others the same', async () => {
  const clicks = {
    ...content.metrics[0]!,
    id: drawThingId(),
    name: 'Clicks per view',
    kind: 'ratio',
    role: 'secondary',
    denominator: { type: 'visit', page: { match: 'exact', value: '/' } },
  } as const
  const refunds = {
    ...content.metrics[0]!,
    id: drawThingId(),
    name: 'Refunds',
    role: 'guardrail',
    direction: 'down',
    limit: 0.05,
  } as const
  const first: ExperimentSheet = await (await patch({ metrics: [content.metrics[0]!, clicks, refunds] })).json()
  expect(first.metrics.map(({ name, role, limit }) => [name, role, limit])).toEqual([
    ['Orders', 'primary', null],
    ['Clicks per view', 'secondary', null],
    ['Refunds', 'guardrail', 0.05],
  ])
  expect(first.metrics[1]!.denominator).toEqual(clicks.denominator)
  const second: ExperimentSheet = await (
    await patch({
      metrics: [content.metrics[0]!, { ...clicks, kind: 'mean', denominator: null }],
    })
  ).json()
  expect(second.metrics.map(({ id }) => id)).toEqual(first.metrics.slice(0, 2).map(({ id }) => id))
  expect(second.metrics[1]).toMatchObject({ kind: 'mean', denominator: null })
})

test('browsers read the amounts that metrics of what runs ask for, and keep the parameters that rules name', async () => {
  const total = {
    type: 'pageAmount',
    page: { match: 'exact', value: '/done?order=1' },
    selector: '#total',
    reference: { parameter: 'ref' },
  } as const
  await patch({
    ...content,
    pageRules: [{ id: 'start-page', match: 'exact', value: '/?from=mail' }],
    metrics: [
      content.metrics[0]!,
      primaryMetric('Total per click', 'ratio', total, {
        role: 'secondary',
        denominator: { type: 'click', selector: '#other' },
      }),
      primaryMetric('Total', 'mean', total, { role: 'guardrail', limit: 0.1 }),
    ],
  })
  expect((await siteFile()).amounts).toEqual([])
  await move('start')
  const { amounts, parameters, format } = await siteFile()
  expect(amounts).toEqual([{ page: total.page, selector: '#total', reference: { parameter: 'ref' } }])
  expect(parameters).toEqual(expect.arrayContaining(['utm_source', 'from', 'order']))
  expect(format).toBe(2)
  await move('end')
})

test('four starts at once are all served, and four ends leave none', async () => {
  const ids: number[] = []
  for (let index = 0; index < 4; index++) {
    sheet = await (await editor('POST', path(), { name: `At once ${index}` })).json()
    await patch(content)
    ids.push(sheet.id)
  }
  const moveAll = (transition: string) => Promise.all(ids.map((id) => editor('POST', `${path()}/${id}/${transition}`)))
  // What watches the pages of experiments is in the file, too, with numbers of its own.
  const served = async () =>
    (await siteFile()).entries.flatMap(({ kind, id }) => (kind === 'experiment' && ids.includes(id) ? [id] : []))
  expect((await moveAll('start')).map(({ status }) => status)).toEqual([200, 200, 200, 200])
  expect(await served()).toEqual(ids)
  expect((await moveAll('end')).map(({ status }) => status)).toEqual([200, 200, 200, 200])
  expect(await served()).toEqual([])
})

describe('one thing is changed at a time', () => {
  const setName = (from: string, to: string) => ({
    do: 'set',
    of: { part: 'variants', id: sheet.variants[1]!.id },
    from: { name: from },
    to: { name: to },
  })
  const edits = () => ({ part: 'edits', variant: sheet.variants[1]!.id })
  const read = async (): Promise<ExperimentSheet> => (await editor('GET', own())).json()

  test('edits, by their ids', async () => {
    await change({ do: 'add', list: edits(), item: edit, before: null })
    await change({ do: 'add', list: edits(), item: { ...edit, id: 'edit-0002', selector: 'p' }, before: 'edit-0001' })
    const place = { ...edits(), id: 'edit-0001' }
    await change({ do: 'set', of: place, from: { value: 'New' }, to: { value: 'Newest' } })
    expect((await read()).variants[1]!.edits.map((edit) => [edit.id, 'value' in edit && edit.value])).toEqual([
      ['edit-0002', 'New'],
      ['edit-0001', 'Newest'],
    ])
    expect((await change({ do: 'remove', list: edits(), item: edit })).status).toBe(409)
    expect((await change({ do: 'remove', list: edits(), item: { ...edit, value: 'Newest' } })).status).toBe(200)
    expect((await change({ do: 'remove', list: edits(), item: { ...edit, value: 'Newest' } })).status).toBe(409)
    expect((await read()).variants[1]!.edits.map(({ id }) => id)).toEqual(['edit-0002'])
  })

  test('a change that is sent twice is made once', async () => {
    const id = randomUUID()
    for (let times = 0; times < 2; times++) expect((await change(setName('Variant B', 'Warm'), id)).status).toBe(200)
    expect(await read()).toMatchObject({ version: 2, variants: [{}, { name: 'Warm' }] })
  })

  test('two people change different things, and both are kept; of two who change the same, the second is told', async () => {
    const weight = {
      do: 'set',
      of: { part: 'variants', id: sheet.variants[1]!.id },
      from: { weight: 1 },
      to: { weight: 4 },
    }
    const replies = await Promise.all([change(setName('Variant B', 'Warm')), change(weight)])
    expect(replies.map(({ status }) => status)).toEqual([200, 200])
    const late = await change(setName('Variant B', 'Cool'))
    expect(late.status).toBe(409)
    expect((await late.json()).message).toMatch(/changed since/)
    expect((await read()).variants[1]).toMatchObject({ name: 'Warm', weight: 4 })
  })

  test('the change log says old and new, and any earlier state of a draft can be had again', async () => {
    const before = await read()
    await change(setName('Variant B', 'Warm'))
    await change({ do: 'set', of: { part: 'plan' }, from: { smallestLift: 0.05 }, to: { smallestLift: 0.125 } })
    const log = async () => ((await (await editor('GET', own('/changes'))).json()) as Paged<ChangeView>).items
    const [lift, name, created] = await log()
    expect([lift!.words, name!.words, created!.action]).toEqual([
      'Smallest worthwhile lift: 5 % became 12.5 %',
      'Name of the variant “Variant B”: “Variant B” became “Warm”',
      'created',
    ])
    const restored: ExperimentSheet = await (await editor('POST', own(`/changes/${created!.id}/restore`))).json()
    expect(restored).toEqual({ ...before, version: 4 })
    const again: ExperimentSheet = await (await editor('POST', own(`/changes/${name!.id}/restore`))).json()
    expect(again).toMatchObject({ variants: [{}, { name: 'Warm' }], plan: { smallestLift: 0.05 } })
  })
})

test('a start freezes what was read, and nothing that came after', async () => {
  await patch(content)
  const { version } = sheet
  await patch({ hypothesis: 'Better.' })
  expect((await editor('POST', own('/start'), { version })).status).toBe(409)
  expect((await editor('POST', own('/start'), { version: sheet.version })).status).toBe(200)
  await editor('POST', own('/end'))
})

test('a metric that a started experiment uses is not changed by another, which gets a version of its own', async () => {
  await patch(content)
  const [used] = sheet.metrics
  await move('start')
  const started = sheet
  sheet = await (await editor('POST', path(), { name: 'Second' })).json()
  const second: ExperimentSheet = await (
    await patch({ metrics: [{ ...content.metrics[0]!, id: used!.id, source: { type: 'click', selector: '#new' } }] })
  ).json()
  expect([second.metrics[0]!.id, second.metrics[0]!.versionId === used!.versionId]).toEqual([used!.id, false])
  const read: ExperimentSheet = await (await editor('GET', `${path()}/${started.id}`)).json()
  expect(read.metrics[0]).toMatchObject({ versionId: used!.versionId, source: { selector: '#order' } })
  await editor('POST', `${path()}/${started.id}/end`)
})

describe('wrong input is refused with a message for its field', () => {
  test.each<[string, object, RegExp]>([
    ['name', { name: ' ' }, /Give the experiment a name/],
    ['pageRules[0].value', { pageRules: [{ id: 'no-slash', match: 'exact', value: 'no-slash' }] }, /slash/],
    ['share', { share: 20_000 }, /at most 100 %/],
    ['variants', { variants: [] }, /control cannot be removed/],
    ['variants[0].weight', { variants: [{ id: 'variant-a', name: 'A', weight: -1, edits: [] }] }, /negative/],
    [
      'variants[0].edits[0].kind',
      { variants: [{ id: 'variant-a', name: 'A', weight: 1, edits: [{ ...edit, kind: 'program' }] }] },
      /one of/,
    ],
    [
      'metrics[0].source.selector',
      { metrics: [{ ...content.metrics[0]!, source: { type: 'click', selector: '' } }] },
      /element/,
    ],
    ['metrics[0].denominator', { metrics: [{ ...content.metrics[0]!, kind: 'ratio' }] }, /divided by/],
    [
      'metrics[1].limit',
      { metrics: [content.metrics[0]!, { ...content.metrics[0]!, id: 'another-one', role: 'guardrail' }] },
      /limit in percent/,
    ],
    [
      'metrics',
      { metrics: [content.metrics[0]!, { ...content.metrics[0]!, id: 'another-one' }] },
      /At most one metric is the primary/,
    ],
    [
      'metrics[0].source.type',
      { metrics: [{ ...content.metrics[0]!, source: { type: 'guess' } }] },
      /Choose what is counted/,
    ],
    ['plan.smallestLift', { plan: { ...content.plan, smallestLift: 0 } }, /above 0 %/],
    ['plan.leastWeeks', { plan: { ...content.plan, leastWeeks: 1.5 } }, /whole weeks/],
    ['plan.alpha', { plan: { ...content.plan, alpha: 1 } }, /between 0 and 1/],
  ])('%s', async (field, changes, message) => {
    const reply = await patch(changes)
    expect(reply.status).toBe(422)
    expect((await reply.json()).data.fields[field]).toMatch(message)
    expect((await (await editor('GET', own())).json()).version).toBe(1)
  })
})

test('of two people who change the same sheet, the second is told and overwrites nothing', async () => {
  const read = sheet
  expect((await patch({ name: 'First' }, read)).status).toBe(200)
  const second = await patch({ name: 'Second' }, read)
  expect(second.status).toBe(409)
  expect((await second.json()).message).toMatch(/Read it again/)
  expect((await (await editor('GET', own())).json()).name).toBe('First')
})

test('the list is searched by name and address, and filtered by state', async () => {
  await patch({ name: 'Needle 100%_', pageRules: [{ id: 'start-page', match: 'exact', value: '/hay/stack' }] })
  const found = async (query: string) => {
    const page: Paged<ExperimentSummary> = await (await editor('GET', `${path()}?${query}`)).json()
    return page.items.map(({ id }) => id)
  }
  expect(await found('search=needle')).toEqual([sheet.id])
  expect(await found('search=hay/st&state=draft')).toEqual([sheet.id])
  expect(await found(`search=${encodeURIComponent('100%_')}`)).toEqual([sheet.id])
  expect(await found('search=1__%25')).toEqual([])
  expect(await found('search=needle&state=running')).toEqual([])
  expect((await editor('GET', `${path()}?state=lost`)).status).toBe(422)
})

test('an address that the API does not know is answered as such, and not with the interface', async () => {
  const reply = await editor('PATCH', '/api/nowhere?at=all')
  expect(reply.status).toBe(404)
  expect((await reply.json()).message).toMatch(/^There is no PATCH \/api\/nowhere in this API/)
})

describe('a started experiment', () => {
  test('ends with a decision, which stays on its sheet and in the log', async () => {
    const kept = sheet.variants[1]!
    expect((await editor('POST', own('/end'), { variant: 'nowhere-1', reason: 'x' })).status).toBe(422)
    const reply = await editor('POST', own('/end'), { variant: kept.id, reason: ' It sells. ' })
    expect((await reply.json()).decision).toEqual({ variant: kept.id, reason: 'It sells.', person: 'editor' })
    const { items }: Paged<ChangeView> = await (await editor('GET', own('/changes'))).json()
    expect(items[0]!.words).toBe('ended; “New headline” is kept: It sells.')
  })

  beforeEach(async () => {
    expect(await move('start')).toBe(422)
    await patch({ ...content, share: 4000 })
    expect(await move('start')).toBe(200)
  })

  test('is in the site file with all that a browser needs, until it is paused or ended', async () => {
    const file = await siteFile()
    const found = file.entries.find(({ id }) => id === sheet.id)
    expect(found).toMatchObject({
      share: 4000,
      weights: [1, 3],
      pages: [{ match: 'exact', value: '/' }],
      edits: [[], [{ kind: 'text', selector: 'h1', value: 'New' }]],
    })
    expect(await move('pause')).toBe(200)
    const paused = await siteFile()
    expect(paused.version).toBeGreaterThan(file.version)
    expect(paused.entries.some(({ id }) => id === sheet.id)).toBe(false)
    expect(await move('resume')).toBe(200)
    expect((await siteFile()).entries.find(({ id }) => id === sheet.id)?.salt).toBe(found?.salt)
    expect(await move('end')).toBe(200)
    expect((await siteFile()).entries.some(({ id }) => id === sheet.id)).toBe(false)
  })

  test('keeps variants, page, metric and plan; name and hypothesis may change', async () => {
    for (const changes of [
      { variants: [content.variants[0]] },
      { pageRules: [] },
      { metrics: [{ ...content.metrics[0]!, name: 'Other' }] },
      { plan: { ...content.plan, smallestLift: 0.2 } },
    ]) {
      const reply = await patch(changes)
      expect(reply.status).toBe(409)
      expect((await reply.json()).message).toMatch(/frozen/)
    }
    expect((await patch({ name: 'Renamed', hypothesis: 'Said better.' })).status).toBe(200)
  })

  test('lets its share be raised, never lowered', async () => {
    expect((await patch({ share: 3000 })).status).toBe(409)
    expect((await patch({ share: 9000 })).status).toBe(200)
    expect((await siteFile()).entries.find(({ id }) => id === sheet.id)?.share).toBe(9000)
  })

  test('goes through its states in one direction only', async () => {
    expect(await move('start')).toBe(409)
    expect(await move('resume')).toBe(409)
    expect((await editor('DELETE', own())).status).toBe(409)
    expect(await move('end')).toBe(200)
    for (const transition of ['start', 'pause', 'resume', 'end']) expect(await move(transition)).toBe(409)
    expect((await patch({ share: 10_000 })).status).toBe(409)
  })

  test('leaves a trace of who did what', async () => {
    await patch({ share: 5000 })
    await move('pause')
    const { items: changes }: Paged<ChangeView> = await (await editor('GET', own('/changes'))).json()
    expect(changes.map(({ action, person }) => [action, person])).toEqual([
      ['paused', 'editor'],
      ['changed', 'editor'],
      ['started', 'editor'],
      ['changed', 'editor'],
      ['created', 'editor'],
    ])
    expect(changes[1]!.words).toBe('Set traffic share together')
  })

  test('can be copied into a draft of its own, with another salt', async () => {
    const copy: ExperimentSheet = await (await editor('POST', own('/copy'))).json()
    expect(copy).toMatchObject({
      state: 'draft',
      hypothesis: content.hypothesis,
      plan: content.plan,
      startedAt: null,
    })
    expect(copy.metrics[0]).toMatchObject({ id: sheet.metrics[0]?.id, versionId: sheet.metrics[0]?.versionId })
    const salts = await database
      .select({ salt: experiment.salt })
      .from(experiment)
      .where(eq(experiment.siteId, team.site.id))
    expect(new Set(salts.map(({ salt }) => salt)).size).toBe(salts.length)
  })
})

test('a deleted draft is gone from the list and can be brought back', async () => {
  const names = async () =>
    ((await (await editor('GET', path())).json()) as Paged<ExperimentSummary>).items.map(({ id }) => id)
  expect(await names()).toContain(sheet.id)
  expect((await editor('DELETE', own())).status).toBe(200)
  expect(await names()).not.toContain(sheet.id)
  expect((await editor('GET', own())).status).toBe(404)
  expect((await editor('POST', own('/restore'))).status).toBe(200)
  expect(await names()).toContain(sheet.id)
})

describe('results', () => {
  const count = (variant: number, visitors: number, daysAgo: number) => ({
    siteId: team.site.id,
    experimentId: sheet.id,
    variant,
    dimension: 'day',
    value: new Date(Date.now() - daysAgo * DAY).toISOString().slice(0, 10),
    visitors,
    crossed: 0,
  })
  /** What the worker does after a fold. */
  const counted = async (rows: (typeof exposureCount.$inferInsert)[]) => {
    await database.insert(exposureCount).values(rows)
    await refreshSummaries(database, team.site.id, [sheet.id], new Date())
  }
  const startedDaysAgo = (days: number) =>
    database
      .update(experiment)
      .set({ startedAt: new Date(Date.now() - days * DAY) })
      .where(eq(experiment.id, sheet.id))
  const today = async () =>
    ((await (await editor('GET', `/api/sites/${team.site.id}/today`)).json()) as TodayView).needs.filter(({ link }) =>
      new RegExp(`/${sheet.id}(?:#|$)`).test(link),
    )

  beforeEach(async () => {
    await patch({ ...content, variants: [content.variants[0]!, { ...content.variants[1]!, weight: 1 }] })
    await move('start')
  })

  test('before any visitor say so instead of showing numbers', async () => {
    const results = await (await editor('GET', own('/results'))).json()
    expect(results).toMatchObject({
      visitors: 0,
      metrics: [{ comparisons: [{ pValue: null, difference: { estimate: null } }], probabilityBest: [null, null] }],
      verdict: { kind: 'early' },
    })
    expect(await today()).toEqual([])
  })

  test('with a broken split are not to be trusted, and Today says it first', async () => {
    await startedDaysAgo(20)
    await counted([count(0, 5400, 0), count(1, 4600, 0)])
    const results = await (await editor('GET', own('/results'))).json()
    expect(results.allocation.alarm).toBe(true)
    expect(results.verdict.kind).toBe('distrust')
    expect((await today())[0]).toMatchObject({ kind: 'allocation' })
  })

  test('of an experiment without new visitors since yesterday show up on Today', async () => {
    await startedDaysAgo(10)
    await counted([count(0, 50, 5), count(1, 51, 5)])
    expect(await today()).toMatchObject([{ kind: 'silent' }])
  })

  test('go out as a table, with a formula in a name defused', async () => {
    await patch({ name: '=cmd()' })
    await counted([count(0, 100, 0), count(1, 110, 0)])
    const list = await editor('GET', `${path()}.csv`)
    expect(list.headers.get('content-type')).toContain('text/csv')
    expect(await list.text()).toContain("'=cmd()")
    const [header, control, variant] = (await (await editor('GET', own('/results.csv'))).text()).split('\n')
    expect(header).toMatch(/^metric,role,kind,variant,visitors,sum,denominator,mean,variance,lift,/)
    expect(control).toMatch(/^Orders,primary,conversion,Control,100,0,,0,/)
    expect(variant).toMatch(/^Orders,primary,conversion,New headline,110,0,,0,/)
  })
})

test('a site’s settings are its owner’s to change, and reach the site file', async () => {
  const owner = await callerOf(url, team.emails.owner)
  const sitePath = `/api/sites/${team.site.id}`
  expect((await owner('PATCH', sitePath, { timeZone: 'Mars/Olympus' })).status).toBe(422)
  expect((await owner('PATCH', sitePath, { asksConsent: true, timeZone: 'Europe/Dublin' })).status).toBe(200)
  expect((await siteFile()).asksConsent).toBe(true)
  expect((await database.select().from(site).where(eq(site.id, team.site.id)))[0]).toMatchObject({
    timeZone: 'Europe/Dublin',
    name: team.site.name,
  })
  await owner('PATCH', sitePath, { asksConsent: false })
  const twice = await owner('POST', '/api/sites', { address: `${team.site.address}/page`, name: 'Again' })
  expect(twice.status).toBe(409)
  expect((await owner('POST', '/api/sites', { address: 'javascript:alert(1)', name: 'X' })).status).toBe(422)
})

test('the snippet is served compressed, with an ETag that changes only with what runs', async () => {
  const address = `${url}/s/${team.site.key}.js`
  const first = await fetch(address, { headers: { 'accept-encoding': 'br' } })
  expect(first.headers.get('content-encoding')).toBe('br')
  expect(first.headers.get('cache-control')).toBe('public, max-age=10, stale-while-revalidate=3600')
  const etag = first.headers.get('etag')!
  expect((await fetch(address, { headers: { 'if-none-match': etag } })).status).toBe(304)
  await patch(content)
  await move('start')
  await siteFile()
  expect((await fetch(address)).headers.get('etag')).not.toBe(etag)
  const unknown = await fetch(`${url}/s/unknown.js`)
  expect([unknown.status, await unknown.json()]).toEqual([404, { message: 'No site has this key.' }])
})
