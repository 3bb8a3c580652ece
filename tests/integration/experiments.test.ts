import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { exposureCount, experiment, site } from '../../server/database/schema'
import { DEFAULT_PLAN } from '../../server/services/experiments/experiments'
import { refreshSummaries } from '../../server/services/results/summaries'
import { noteFirstReport } from '../../server/services/sites/sites'
import type { ChangeView, ExperimentPatch, ExperimentSheet, ExperimentSummary } from '../../shared/experiment'
import type { Paged } from '../../shared/paging'
import type { TodayItem } from '../../shared/site'
import type { SiteFile } from '../../shared/siteFile'
import { primaryMetric } from '../metrics'
import { callerOf, createTeam } from './people'
import { ownStack } from './ownStack'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
let team: Awaited<ReturnType<typeof createTeam>>
let editor: Awaited<ReturnType<typeof callerOf>>
let sheet: ExperimentSheet

const path = () => `/api/sites/${team.site.id}/experiments`
const own = (end = '') => `${path()}/${sheet.id}${end}`
const edit = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
const content = {
  hypothesis: 'Because we saw it.',
  pageRules: [{ match: 'exact', value: '/' }],
  variants: [
    { name: 'Control', weight: 1, edits: [] },
    { name: 'New headline', weight: 3, edits: [edit] },
  ],
  metrics: [primaryMetric('Orders', 'conversion', { type: 'click', selector: '#order' })],
  plan: { ...DEFAULT_PLAN, smallestLift: 0.1 },
} satisfies Omit<ExperimentPatch, 'version'>

async function patch(changes: object, version = sheet.version): Promise<Response> {
  const reply = await editor('PATCH', own(), { version, ...changes })
  if (reply.ok) sheet = await reply.clone().json()
  return reply
}
async function move(transition: string): Promise<number> {
  const reply = await editor('POST', own(`/${transition}`))
  if (reply.ok) sheet = await reply.json()
  return reply.status
}
const siteFile = async () => {
  // The application remembers a site file for a second.
  await new Promise((later) => setTimeout(later, 1100))
  return (await (await fetch(`${url}/s/${team.site.key}.json`)).json()) as SiteFile
}

beforeAll(async () => {
  team = await createTeam(database)
  editor = await callerOf(url, team.emails.editor)
  await noteFirstReport(database, team.site.id)
})
afterAll(() => database.$client.end())
beforeEach(async () => {
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
    name: 'Clicks per view',
    kind: 'ratio',
    role: 'secondary',
    denominator: { type: 'visit', page: { match: 'exact', value: '/' } },
  } as const
  const refunds = {
    ...content.metrics[0]!,
    name: 'Refunds',
    role: 'guardrail',
    direction: 'down',
    limit: 0.05,
  } as const
  const first: ExperimentSheet = await (await patch({ metrics: [clicks, content.metrics[0]!, refunds] })).json()
  expect(first.metrics.map(({ name, role, limit }) => [name, role, limit])).toEqual([
    ['Orders', 'primary', null],
    ['Clicks per view', 'secondary', null],
    ['Refunds', 'guardrail', 0.05],
  ])
  expect(first.metrics[1]!.denominator).toEqual(clicks.denominator)
  const [orders, ratio] = first.metrics
  const second: ExperimentSheet = await (
    await patch({
      metrics: [
        { ...content.metrics[0]!, id: orders!.id },
        { ...clicks, id: ratio!.id, kind: 'mean' },
      ],
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
    pageRules: [{ match: 'exact', value: '/?from=mail' }],
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
  const served = async () => (await siteFile()).entries.map(({ id }) => id).filter((id) => ids.includes(id))
  expect((await moveAll('start')).map(({ status }) => status)).toEqual([200, 200, 200, 200])
  expect(await served()).toEqual(ids)
  expect((await moveAll('end')).map(({ status }) => status)).toEqual([200, 200, 200, 200])
  expect(await served()).toEqual([])
})

test('edits are changed one at a time, by their ids', async () => {
  const [, variant] = sheet.variants
  const edits = (end = '') => `${own(`/variants/${variant!.id}/edits`)}${end}`
  const put = async (version: number, incoming: object) => editor('POST', edits(), { version, edit: incoming })
  const first: ExperimentSheet = await (await put(1, edit)).json()
  expect(first.variants[1]!.edits).toEqual([edit])
  expect((await put(1, { ...edit, value: 'Late' })).status).toBe(409)
  const second: ExperimentSheet = await (await put(2, { ...edit, id: 'edit-0002', selector: 'p' })).json()
  const third: ExperimentSheet = await (await put(second.version, { ...edit, value: 'Newest' })).json()
  expect(third.variants[1]!.edits.map(({ id, value }) => [id, value])).toEqual([
    ['edit-0001', 'Newest'],
    ['edit-0002', 'New'],
  ])
  expect((await editor('DELETE', `${edits('/edit-0001')}?version=${third.version}`)).status).toBe(200)
  expect((await editor('DELETE', `${edits('/edit-0001')}?version=${third.version + 1}`)).status).toBe(404)
  const read: ExperimentSheet = await (await editor('GET', own())).json()
  expect(read.variants[1]!.edits.map(({ id }) => id)).toEqual(['edit-0002'])
  expect(read.variants[1]!.id).toBe(variant!.id)
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
    ['pageRules[0].value', { pageRules: [{ match: 'exact', value: 'no-slash' }] }, /slash/],
    ['share', { share: 20_000 }, /at most 100 %/],
    ['variants', { variants: [] }, /control cannot be removed/],
    ['variants[0].weight', { variants: [{ name: 'A', weight: -1, edits: [] }] }, /negative/],
    [
      'variants[0].edits[0].kind',
      { variants: [{ name: 'A', weight: 1, edits: [{ ...edit, kind: 'script' }] }] },
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
      { metrics: [content.metrics[0]!, { ...content.metrics[0]!, role: 'guardrail' }] },
      /limit in percent/,
    ],
    ['metrics', { metrics: [{ ...content.metrics[0]!, role: 'secondary' }] }, /Exactly one metric is the primary/],
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
  expect((await patch({ name: 'First' }, 1)).status).toBe(200)
  const second = await patch({ name: 'Second' }, 1)
  expect(second.status).toBe(409)
  expect((await second.json()).message).toMatch(/Reload/)
  expect((await (await editor('GET', own())).json()).name).toBe('First')
})

describe('a started experiment', () => {
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
      pages: content.pageRules,
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
    expect(changes[1]).toMatchObject({ before: { share: 4000 }, after: { share: 5000 } })
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
    value: new Date(Date.now() - daysAgo * 86_400_000).toISOString().slice(0, 10),
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
      .set({ startedAt: new Date(Date.now() - days * 86_400_000) })
      .where(eq(experiment.id, sheet.id))
  const today = async () =>
    ((await (await editor('GET', `/api/sites/${team.site.id}/today`)).json()) as TodayItem[]).filter(({ link }) =>
      link.endsWith(`/${sheet.id}`),
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
  expect(first.headers.get('cache-control')).toBe('public, max-age=10')
  const etag = first.headers.get('etag')!
  expect((await fetch(address, { headers: { 'if-none-match': etag } })).status).toBe(304)
  await patch(content)
  await move('start')
  await siteFile()
  expect((await fetch(address)).headers.get('etag')).not.toBe(etag)
  const unknown = await fetch(`${url}/s/unknown.js`)
  expect([unknown.status, await unknown.json()]).toEqual([404, { message: 'No site has this key.' }])
})
