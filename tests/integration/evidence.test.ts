import { eq, sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { BANDS } from '../../core/evidence/behavior'
import { candidateSamples } from '../../core/evidence/candidates/candidates'
import { dayAfter } from '../../core/time/siteDay'
import { createRandom } from '../../demo/visitors/random'
import { connect } from '../../server/database/connect'
import type { MetricSource } from '../../core/measurement/metric'
import { currencyRate, metric, metricVersion, site } from '../../server/database/schema'
import { ANSWERS, sessionsOf, type Asked, type Questions } from '../../server/services/evidence/answers'
import type { EvidenceThread } from '../../server/services/evidence/askEvidence'
import { createArchive } from '../../server/services/evidence/archive'
import { listRecordings } from '../../server/services/recordings/recordings'
import { readSiteVisits, type SiteVisits } from '../../server/services/evidence/siteVisits'
import { STATEMENTS, type Stated } from '../../server/services/evidence/statements/statements'
import { OTHERS } from '../../core/evidence/overTime'
import { sameWeekdaysBefore } from '../../shared/evidence/filter'
import type { FunnelInput } from '../../shared/evidence/funnel'
import { folded, happen, type Happening } from '../arrivals'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 3)
afterAll(() => database.$client.end())

/** Clocks in Ireland change on March 29, 2026, and on October 25. */
const CHANGES = [Date.UTC(2026, 2, 29, 1), Date.UTC(2026, 9, 25, 1)]
const [SECOND, MINUTE] = [1000, 60_000]
const random = createRandom(11)
const pick = <Value>(values: readonly Value[]): Value => values[Math.floor(random.uniform() * values.length)]!
const whole = (low: number, high: number) => Math.floor(random.between(low, high + 1))

const PATHS = ['/', '/crossings/torrin', '/crossings/ennisay/', '/book', '/book/pay', '/help?ref=a', '/help?ref=b']
const BOOKING = 'body>main:nth-child(2)>form#booking.steps:nth-child(2)'
const ELEMENTS = [
  `${BOOKING}>button#go:nth-child(3)`,
  'body>main:nth-child(2)>h1:nth-child(1)',
  'body>a#help.link:nth-child(1)',
]
const FIELDS = ['date', 'adults', 'length']

type Inner = NonNullable<Happening['events']>[number]

function innerEvents(at: number, path: string): Inner[] {
  const after = () => at + whole(1, 50) * SECOND
  const events: Inner[] = []
  const maybe = (chance: number, make: () => Inner) => void (random.chance(chance) && events.push(make()))
  for (let times = 0; times < 3; times++)
    maybe(0.4, () => ({
      type: 'click',
      at: after(),
      element: pick(ELEMENTS),
      label: 'Go on',
      place: [whole(0, 390), whole(0, 2000)],
      within: [whole(0, 1000), whole(0, 1000)],
    }))
  maybe(0.1, () => ({ type: 'error', at: after(), name: 'It broke' }))
  maybe(0.1, () => ({ type: 'dead', at: after(), element: pick(ELEMENTS), place: [10, 10] }))
  maybe(0.1, () => ({ type: 'rage', at: after(), element: pick(ELEMENTS), place: [10, 10], properties: { clicks: 4 } }))
  maybe(0.2, () => ({
    type: 'custom',
    ...(random.uniform() < 0.7 ? { details: { vehicle: pick(['car', 'VAN', true, 2.5, 1, '2.5']) } } : {}),
    at: after(),
    name: pick(['order', 'chat']),
    amount: whole(1, 9000) / 100,
    currency: pick(['EUR', 'EUR', 'GBP', 'JPY', 'SEK']),
    reference: pick(['A', 'B', 'C', undefined]),
  }))
  for (let times = 0; times < 2; times++)
    maybe(0.5, () => {
      const height = whole(500, 3000)
      const bands = Array.from({ length: BANDS }, () => whole(0, 4000))
      return {
        type: 'reading',
        at: after(),
        properties: { seen: whole(100, 90_000), depth: whole(300, height), height, bands },
      }
    })
  maybe(0.2, () => ({ type: 'asked', at: after(), properties: { survey: pick([3, 4]) } }))
  for (let times = 0; times < 2; times++)
    maybe(0.2, () => ({
      type: 'answer',
      at: after(),
      properties: {
        survey: pick([3, 4]),
        question: pick(['reason', 'ease']),
        choices: pick([[], ['a'], ['b', 'a']]),

        value: pick([null, 1, 5]),
        text: pick([null, "Where's the dog?", 'fares']),
      },
    }))
  if (path.startsWith('/book') && random.chance(0.8)) {
    const form = path === '/book' ? 'booking' : 'payment'
    events.push({
      type: 'form',
      at: at + 200,
      element: BOOKING,
      name: form,
      properties: { fields: FIELDS.map((name) => ({ name, label: name.toUpperCase(), kind: 'text' })) },
    })
    for (let times = 0; times < 4; times++)
      maybe(0.6, () => ({
        type: 'field',
        at: after(),
        element: `${BOOKING}>input:nth-child(${times + 1})`,
        name: pick([...FIELDS, 'gone']),
        properties: {
          form,
          time: whole(200, 60_000),
          hesitation: random.chance(0.3) ? null : whole(10, 9000),

          isBlank: random.chance(0.3),
          isRefill: random.chance(0.2),
        },
      }))
    maybe(0.5, () => ({ type: 'submit', at: at + 55 * SECOND, element: BOOKING }))
  }
  return events
}

/** A visit close to midnight or to a change of clocks, now and then with another tab beside it. */
function visit(index: number): Happening[] {
  const midnight = Math.floor(CHANGES[index % 2]! / DAY) * DAY + whole(-3, 3) * DAY
  let at = midnight + whole(-120, 160) * MINUTE + whole(0, 59_999)
  const visitor = `visitor-${whole(1, 90)}`
  const view = {
    sessionId: random.chance(0.08) ? `shared-${visitor}` : `session-${index}`,
    visit: pick([1, 2, 3, null]),

    device: pick(['phone', 'desktop', 'tablet']),
    country: pick(['IE', 'GB', null]),
    language: pick(['en-IE', 'de', null]),

    browser: pick(['Firefox', 'Chrome']),
    campaignSource: pick(['mail', null, null]),
    campaign: pick(["o'clock", null]),

    referrerHost: pick(['search.example', null]),
    windowWidth: pick([390, 820, 1440, null]),
  }
  return Array.from({ length: whole(1, 5) }, (): Happening => {
    const path = pick(PATHS)
    const events = innerEvents(at, path)
    const happening = { visitor, at, path, view, events }
    at += whole(5, 600) * SECOND
    return happening
  })
}

/** What is counted beside orders and clicks: of whole visits, of reading, and on some pages only. */
const MORE_SOURCES: MetricSource[] = [
  ...(['visits', 'bounces', 'visitTime', 'timeInView', 'engagement'] as const).map((type) => ({ type })),
  { type: 'return', days: 2 },
  { type: 'error', page: { match: 'begins', value: '/book' } },
  { type: 'event', name: 'order', page: { match: 'exact', value: '/book' } },
  { type: 'event', name: 'order', detail: { name: 'vehicle', is: 'oneOf', texts: ['Car', 'true', '2.5'] } },
  { type: 'event', name: 'order', detail: { name: 'vehicle', is: 'known' } },
  { type: 'event', name: 'order', detail: { name: 'vehicle', is: 'least', number: 2 } },
]

let source: { pool: typeof database.$client; siteId: number; site: SiteVisits }

beforeAll(async () => {
  const team = await createTeam(database)
  const siteId = team.site.id
  await database.update(site).set({ timeZone: 'Europe/Dublin', currency: 'EUR' }).where(eq(site.id, siteId))
  // Rates that change at a midnight of the site, and none for kronor.
  await database.insert(currencyRate).values(
    (
      [
        ['GBP', '2020-01-01', 1.1715],
        ['GBP', '2026-03-28', 1.25],
        ['GBP', '2026-10-26', 0.9],
        ['JPY', '2026-03-29', 0.00615],
      ] as const
    ).map(([currency, from, rate]) => ({ siteId, currency, from, rate })),
  )
  await database
    .insert(metric)
    .values([
      { id: 'metric-order', siteId, name: 'Orders' },
      { id: 'metric-help', siteId, name: 'Help' },
      ...MORE_SOURCES.map((_, index) => ({ id: `metric-${index}`, siteId, name: `Other ${index}` })),
    ])
  await database.insert(metricVersion).values([
    { siteId, metricId: 'metric-order', version: 1, kind: 'mean', source: { type: 'event', name: 'order' } },
    {
      siteId,
      metricId: 'metric-help',
      version: 1,
      kind: 'conversion',
      source: { type: 'click', selector: 'a#help' },
    },
    ...MORE_SOURCES.map((of, index) => ({
      siteId,
      metricId: `metric-${index}`,
      version: 1,
      kind: 'mean' as const,
      source: of,
    })),
  ])
  const visits = Array.from({ length: 320 }, (_, index) => visit(index))
  const write = async (some: readonly Happening[][]) => {
    await happen(database, team.site, some.flat())
    await folded(database, siteId)
  }
  await write(visits.slice(0, 150))
  const robot = { isRobot: true, sessionId: 'robot' }
  await write([[{ visitor: 'a-robot', at: visits[0]![0]!.at, path: '/book', view: robot }]])
  const early = await readSiteVisits(database.$client, siteId, null)
  // What comes later is as often of earlier days, and of visitors and sessions that are known.
  early.visits.blocks()
  await write(visits.slice(150, 300))
  await readSiteVisits(database.$client, siteId, early)
  early.visits.blocks()
  await write(visits.slice(300))
  // As a database does by itself in time: without, the statements are planned for tables of no rows.
  await database.execute(sql`ANALYZE page_view, event, visitor`)
  // Half of the visitors are in an experiment from some moment on.
  await database.execute(sql`
    INSERT INTO exposure (site_id, visitor_id, experiment_id, variant, exposed_at, event_id, view_id, day, segments)
    SELECT site_id, visitor_id, 77, count(*) % 2, min(occurred_at) + interval '1 hour',
      gen_random_uuid(), gen_random_uuid(), min(occurred_at)::date, '{}'
    FROM page_view WHERE site_id = ${siteId} AND visitor_id NOT LIKE '%5' GROUP BY 1, 2`)
  // All of them were recorded.
  await database.execute(sql`
    INSERT INTO recording (site_id, visitor_id, session_id, started_at, ended_at, listed_at, chunks, bytes)
    SELECT site_id, visitor_id, session_id, min(occurred_at), max(occurred_at), min(occurred_at), 1, 1
    FROM page_view WHERE site_id = ${siteId} GROUP BY 1, 2, 3`)
  source = { pool: database.$client, siteId, site: await readSiteVisits(database.$client, siteId, early) }
})

const SEGMENTS = [
  ...[undefined, 'device:phone', 'country:IE,device:desktop', 'language:en', 'source:direct', 'visitor:new'],
  ...[`campaign:${encodeURIComponent("o'clock")}`, 'country:unknown', 'converted:metric-order', 'landing:%2Fbook'],
  ...['unconverted:metric-help', 'converted:metric-help,device:phone', 'variant:77.1', 'variant:77.0,device:phone'],
]
const PAGES = [undefined, undefined, 'is:/book', 'begins:/crossings/', 'contains:ref=a', 'is:/crossings/ennisay']

function drawFilter() {
  const from = dayAfter(pick(['2026-03-25', '2026-10-21']), whole(0, 5))
  const filter = { from, to: dayAfter(from, whole(0, 5)), segment: pick(SEGMENTS), page: pick(PAGES) }
  return Object.fromEntries(Object.entries(filter).filter(([, value]) => value !== undefined)) as {
    from: string
    to: string
  }
}

/** Asks for a report and for what its statement says; `compare` is given both, twelve times. */
async function twelveTimes<Ask extends Stated & Asked>(
  ask: Ask,
  draw: () => object,
  compare: (answer: Questions[Ask]['answer'], rows: Record<string, unknown>[]) => number,
): Promise<void> {
  let compared = 0
  for (let round = 0; round < 12; round++) {
    const question = { ...drawFilter(), ...draw() } as unknown as Questions[Ask]['question']
    const answer = await (
      ANSWERS[ask] as (of: typeof source, asked: typeof question) => Promise<Questions[Ask]['answer']>
    )(source, question)
    const statement = await (STATEMENTS[ask] as (of: typeof source, asked: typeof question) => Promise<string>)(
      source,
      question,
    )
    const { rows } = await database.$client.query<Record<string, unknown>>(statement)
    try {
      compared += compare(answer, rows)
    } catch (error) {
      throw new Error(`${ask} ${JSON.stringify(question)}`, { cause: error })
    }
  }
  expect(compared).toBeGreaterThan(20)
}

const METRICS = [undefined, 'metric-order', 'metric-help', ...MORE_SOURCES.map((_, index) => `metric-${index}`)]

test('the figures of pages are those of the raw views and events', () =>
  twelveTimes(
    'pages',
    () => ({ metric: pick(METRICS) }),
    ({ pages }, rows) => {
      const asRow = ({ before: _, days: __, ...rest }: (typeof pages)[number]) => rest
      const byPage = (a: { page?: unknown }, b: { page?: unknown }) => (String(a.page) < String(b.page) ? -1 : 1)
      expect(pages.map(asRow).sort(byPage)).toEqual(rows.sort(byPage))
      return rows.length
    },
  ))

test('visitors by day, week and month, who is new, who is active, and any metric are those of the raw views and events', () =>
  twelveTimes(
    'overTime',
    () => ({
      metric: pick(METRICS),
      by: pick([undefined, 'device', 'landing']),
      per: pick([undefined, 'week', 'month']),
    }),
    ({ series, days }, rows) => {
      const { by } = { by: series[0]?.value !== null }
      for (const own of series) {
        if (own.value === OTHERS) continue
        const expected = rows.filter((row) => (by ? row.value === own.value : true))
        expect([own.value, expected.length]).toEqual([own.value, days.length])
        for (const [index, day] of days.entries()) {
          const { value: _, ...counts } = own
          const figures = Object.fromEntries(Object.entries(counts).map(([name, list]) => [name, list[index]]))
          const { value: __, day: ___, ...row } = expected.find((each) => each.day === day)!
          expect([day, figures]).toEqual([day, row])
        }
      }
      const values = new Set(rows.map(({ value }) => value))
      if (by) expect(series.length).toBe(values.size)
      return rows.length
    },
  ))

const STEPS: FunnelInput['steps'] = [
  { name: 'Start', source: { type: 'visit', page: { match: 'exact', value: '/' } } },
  { name: 'Crossing', source: { type: 'visit', page: { match: 'begins', value: '/crossings/' } } },
  { name: 'Go', source: { type: 'click', selector: '#go' } },
  { name: 'Book', source: { type: 'visit', page: { match: 'begins', value: '/book' } } },
  { name: 'Sent', source: { type: 'submit', selector: '#booking' } },
  { name: 'Order', source: { type: 'event', name: 'order' } },
]

test('a funnel counts who took each step, strictly or loosely, in time, in a session or across', () =>
  twelveTimes(
    'funnel',
    () => {
      const steps = STEPS.filter(() => random.chance(0.5))
      const two = steps.length < 2 ? [STEPS[3]!, STEPS[4]!] : steps
      const { segment: _, ...wide } = { from: '2026-03-25', to: pick(['2026-03-30', '2026-11-02']), segment: null }
      const limitMinutes = pick([null, 1, 12, 60 * 24 * 30])
      const plan = { steps: two, isStrict: random.chance(0.5), limitMinutes, isWithinSession: random.chance(0.5) }
      return { ...wide, plan }
    },
    ({ steps }, [row]) => {
      expect(steps.map(({ reached }) => reached)).toEqual(steps.map((_, index) => row![`reached${index + 1}`]))
      for (const [index, { time }] of steps.entries()) {
        const expected = row![`time${index + 1}`] as number[] | null | undefined
        expect(time?.map(Math.round) ?? null).toEqual(expected?.map((each) => Math.round(Number(each))) ?? null)
      }
      return steps[0]!.reached
    },
  ))

test('forms are told field by field as the raw events tell them', () =>
  twelveTimes(
    'forms',
    () => ({}),
    ({ forms }, rows) => {
      const known = rows.filter(({ field }) => field !== null)
      for (const { page, form, fields, ...counts } of forms) {
        const own = rows.find((row) => row.page === page && row.form === form)!
        expect(counts).toEqual({ seen: own.seen, visitors: own.visitors, begun: own.begun, sent: own.sent })
        for (const { name, label: _, kind: __, ...field } of fields) {
          const row = known.find((each) => each.page === page && each.form === form && each.field === name)
          if (!row) expect([name, field.reached]).toEqual([name, 0])
          else {
            const { reached, refilled, blank, left, time, hesitation } = row
            expect([name, field]).toEqual([name, { reached, refilled, blank, left, time, hesitation }])
          }
        }
      }
      expect(forms.flatMap(({ fields }) => fields.filter(({ reached }) => reached > 0)).length).toBe(known.length)
      return known.length + 3
    },
  ))

const MAP = () => ({
  of: pick(['is:/', 'begins:/book', 'begins:/']),
  ...pick([
    { widthFrom: 0, widthBelow: 1000 },
    { widthFrom: 300, widthBelow: 100_000 },
    { widthFrom: 0, widthBelow: 100_000 },
  ]),
})

test('clicks are counted by element, and each lies in a cell', () =>
  twelveTimes(
    'clicks',
    () => ({ ...MAP(), kind: pick(['click', 'rage', 'dead']) }),
    ({ elements, clicks }, rows) => {
      expect(elements.map(({ path, clicks: own, visitors }) => ({ path, clicks: own, visitors }))).toEqual(rows)
      for (const each of elements) expect(each.cells.reduce((sum, [, count]) => sum + count, 0)).toBe(each.clicks)
      return clicks
    },
  ))

test('reading is told by how far down and how long each part was looked at', () =>
  twelveTimes('reading', MAP, ({ sessions, reach, attention }, [row]) => {
    expect({ sessions, reach }).toEqual({ sessions: row!.sessions, reach: row!.reach })
    const sums = attention.map((mean) => Math.round(mean * sessions))
    expect(sums).toEqual((row!.attention as number[]).map(Math.round))
    return sessions
  }))

test('kinds of events are counted of everybody, and a page’s neighbors of whom one looks at', async () => {
  await twelveTimes(
    'events',
    () => ({ segment: undefined, page: undefined }),
    ({ kinds }, rows) => {
      const counted = kinds.map(({ kind, name, count, visitors, last }) => ({ kind, name, count, visitors, last }))
      const inOrder = (list: object[]) => list.map((each) => JSON.stringify(each)).sort()
      expect(inOrder(counted)).toEqual(inOrder(rows.map((row) => ({ ...row, last: (row.last as Date).getTime() }))))
      return rows.length
    },
  )
  await twelveTimes(
    'flow',
    () => ({ of: pick(['/', '/book', '/help']) }),
    ({ before, after, sources }, rows) => {
      for (const [side, flows] of Object.entries({ before, after, source: sources })) {
        const expected = rows.filter((row) => row.side === side).map(({ name, views }) => ({ name, views }))
        const inOrder = (list: object[]) => list.map((each) => JSON.stringify(each)).sort()
        expect([side, inOrder(flows)]).toEqual([side, inOrder(expected)])
      }
      return rows.length
    },
  )
})

test('recordings are found by what happened in their sessions, as the raw views and events tell it', async () => {
  const evidence = {
    ask: (_site: number, ask: 'strips', question: never) => ANSWERS[ask](source, question),
  } as unknown as EvidenceThread
  let compared = 0
  for (let round = 0; round < 10; round++) {
    const query = {
      ...drawFilter(),
      happened: pick(['', '', 'rage', 'left-form', 'submit,custom', 'error', 'answer']),
      seconds: pick([0, 0, 30, 300]),
      ...(random.chance(0.4) ? { clicked: pick(['go on', '#help', 'nothing like it']) } : {}),
    }
    const { recordings } = await listRecordings(database, evidence, source.siteId, query)
    const { rows } = await database.$client.query<{ visitor: string; session: string }>(
      await STATEMENTS.recordings(source, query),
    )
    const named = (list: readonly { visitor: string; session: string }[]) =>
      list.map(({ visitor, session }) => `${visitor} ${session}`).sort()
    expect([query, named(recordings)]).toEqual([query, named(rows)])
    compared += rows.length
  }
  expect(compared).toBeGreaterThan(20)
})

test('a survey is tallied by the last answer of each visitor', () =>
  twelveTimes(
    'survey',
    () => ({ survey: pick([3, 4]) }),
    ({ asked, answered, questions }, rows) => {
      if (rows[0]) expect([asked, answered]).toEqual([rows[0].asked, rows[0].answered])
      const sumOf = (those: typeof rows) => those.reduce((sum, { visitors }) => sum + Number(visitors), 0)
      for (const { id, answered: own, choices, values, texts } of questions) {
        const ofThis = rows.filter(({ question }) => question === id)
        for (const choice of choices)
          expect([choice.id, choice.count]).toEqual([
            choice.id,
            sumOf(ofThis.filter((row) => row.choice === choice.id)),
          ])
        // An answer of two choices is two rows.
        const single = ofThis.filter(({ choice }) => choice !== 'b')
        expect(own).toBe(sumOf(single))
        for (const { value, count } of values)
          expect(count).toBe(sumOf(single.filter((row) => row.value === String(value))))
        expect(texts.length).toBe(sumOf(single.filter(({ text }) => text !== null)))
      }
      expect(questions.length).toBe(new Set(rows.map(({ question }) => question)).size)
      return rows.length
    },
  ))

test('surveys are counted by who was asked and who answered', () =>
  twelveTimes(
    'surveys',
    () => ({}),
    ({ surveys }, rows) => {
      const byNumber = (a: { survey?: unknown }, b: { survey?: unknown }) => Number(a.survey) - Number(b.survey)
      expect([...surveys].sort(byNumber)).toEqual(rows)
      return rows.length + 1
    },
  ))

test('what might be worth a look is compared by the figures of the raw views and events', async () => {
  let compared = 0
  for (let round = 0; round < 10; round++) {
    const question = drawFilter()
    const before = await sessionsOf(source, sameWeekdaysBefore(question))
    const samples = candidateSamples(source.site.visits, await sessionsOf(source, question), before)
    const { times, left, fields, dead, elements, exits } = samples
    const named = (key: string) => {
      const { page, form } = fields.get(key)!
      return [page, form, key.slice(`${page} ${form} `.length)]
    }
    const middle = (values: readonly number[]) =>
      values.length === 0 ? null : [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) / 2)]!
    const shares = ({ marked, others }: (typeof exits)[number]) => [marked.count, marked.of, others.count, others.of]
    const counted = [
      ...times.map(({ key, marked, others }) => [
        ...['slowFields', ...named(key)],
        ...[middle(marked), marked.length, middle(others), others.length],
      ]),
      ...left.map((each) => ['leftFields', ...named(each.key), ...shares(each)]),
      ...dead.map((each) => {
        const { page, path } = elements.get(each.key)!
        return ['deadElements', page, null, path, ...shares(each)]
      }),
      ...exits.map((each) => ['risingExits', each.key, null, null, ...shares(each)]),
    ]
    const { rows } = await database.$client.query<Record<string, unknown>>(
      await STATEMENTS.candidates(source, question),
    )
    const said = rows
      // A page without a session on one of the two sides is not compared.
      .filter((row) => row.rule !== 'risingExits' || (row.marked_of !== 0 && row.others_of !== 0))
      .map((row) => Object.values(row))
    const sorted = (list: unknown[][]) => list.map((each) => JSON.stringify(each)).sort()
    expect([question, sorted(counted)]).toEqual([question, sorted(said)])
    compared += said.length
  }
  expect(compared).toBeGreaterThan(200)
})

test('whom an idea reaches, and how many of them do what its metric counts, is what the report of pages says', async () => {
  let compared = 0
  for (let round = 0; round < 10; round++) {
    const {
      page: _,
      segment = '',
      ...days
    } = drawFilter() as { from: string; to: string; page?: string; segment?: string }
    const metricId = pick(['metric-order', 'metric-help'])
    const { pages } = await ANSWERS.pages(source, { ...days, segment: segment || undefined, metric: metricId })
    const ideas = pages.map(({ page }) => ({ pages: `is:${page}`, audience: segment, metricId }))
    const { reached } = await ANSWERS.reach(source, { ...days, ideas })
    const seen = pages.filter(({ views }) => views > 0)
    expect(reached.map(({ visitors, converters }) => [visitors, converters])).toEqual(
      pages.map(({ visitors, converters }) => [visitors, converters]),
    )
    compared += seen.length
    const [all] = (await ANSWERS.reach(source, { ...days, ideas: [{ pages: '', audience: segment, metricId }] }))
      .reached
    expect(all!.visitors).toBeGreaterThanOrEqual(Math.max(0, ...pages.map(({ visitors }) => visitors)))
  }
  expect(compared).toBeGreaterThan(20)
})

test('what comes later is told like what came at once, and changed settings are read by', async () => {
  const whole = await readSiteVisits(database.$client, source.siteId, null)
  const question = { from: '2026-03-20', to: '2026-11-01' }
  for (const ask of ['pages', 'forms'] as const satisfies Asked[])
    expect(await ANSWERS[ask]({ ...source, site: whole }, question)).toEqual(await ANSWERS[ask](source, question))
  await database.update(site).set({ timeZone: 'Pacific/Auckland' }).where(eq(site.id, source.siteId))
  const moved = await readSiteVisits(database.$client, source.siteId, whole)
  expect(moved).not.toBe(whole)
  expect(await ANSWERS.pages({ ...source, site: moved }, { from: '2026-03-28', to: '2026-03-28' })).not.toEqual(
    await ANSWERS.pages(source, { from: '2026-03-28', to: '2026-03-28' }),
  )
})

test('what breaks in the middle of a portion is not counted twice once it is mended', async () => {
  const team = await createTeam(database)
  const at = Date.UTC(2026, 9, 5, 12)
  const archive = createArchive(database.$client)
  const range = { from: '2026-10-05', to: '2026-10-05' }
  const views = async () => {
    const { pages } = await archive.answer(team.site.id, 'pages', range)
    return pages.reduce((sum, page) => sum + page.views, 0)
  }
  await happen(database, team.site, [{ visitor: 'visitor-a', at }])
  await folded(database, team.site.id)
  expect(await views()).toBe(1)
  await happen(database, team.site, [
    { visitor: 'visitor-a', at: at + 1000 },
    { visitor: 'visitor-b', at: at + 2000, type: 'reading' },
  ])
  await folded(database, team.site.id)
  await expect(views()).rejects.toThrow(TypeError)
  const whole = JSON.stringify({ seen: 1, depth: 1, height: 1, bands: [] })
  await database.execute(sql`UPDATE event SET properties = ${whole}::jsonb WHERE site_id = ${team.site.id}`)
  expect(await views()).toBe(3)
})

test('a site with more steps than can be held says so, and holds up no other; together, the last asked for stay', async () => {
  const at = Date.UTC(2026, 9, 5, 12)
  const range = { from: '2026-10-05', to: '2026-10-05' }
  const siteWith = async (views: number) => {
    const { site: made } = await createTeam(database)
    const more = async (count: number) => {
      await happen(
        database,
        made,
        Array.from({ length: count }, (_, index) => ({ visitor: `visitor-${index}`, at: at + index })),
      )
      await folded(database, made.id)
    }
    await more(views)
    return { id: made.id, more }
  }
  const read: unknown[] = []
  const pool = {
    query: (...args: unknown[]) => {
      read.push(args)
      return (database.$client.query as (...each: unknown[]) => unknown)(...args)
    },
  } as unknown as typeof database.$client
  const archive = createArchive(pool, 100)
  const views = async (siteId: number) => {
    read.length = 0
    const { pages } = await archive.answer(siteId, 'pages', range)
    return pages.reduce((sum, page) => sum + page.views, 0)
  }
  const [small, other, large] = [await siteWith(40), await siteWith(50), await siteWith(101)]
  expect([await views(small.id), await views(other.id)]).toEqual([40, 50])
  await expect(views(large.id)).rejects.toMatchObject({ status: 422, message: expect.stringContaining('100 steps') })
  // It is not read again for each question.
  const refused = read.length
  await expect(views(large.id)).rejects.toMatchObject({ status: 422 })
  expect(refused).toBeGreaterThan(0)
  expect(read.length).toBe(0)
  // Both still lie in memory: only what is new is asked for.
  expect(await views(other.id)).toBe(50)
  const known = read.length
  // With what has come to it, there is no room for the other one any more, which is read anew.
  await small.more(30)
  expect(await views(small.id)).toBe(70)
  expect(await views(other.id)).toBe(50)
  expect(read.length).toBeGreaterThan(known)
  await small.more(31)
  await expect(views(small.id)).rejects.toMatchObject({ status: 422 })
})

describe('a statement', () => {
  let large: typeof source

  beforeAll(async () => {
    const team = await createTeam(database)
    const siteId = team.site.id
    await database.insert(metric).values({ id: 'large-order', siteId, name: 'Orders' })
    await database
      .insert(metricVersion)
      .values({ siteId, metricId: 'large-order', version: 1, kind: 'mean', source: { type: 'event', name: 'order' } })
    // A site with 60,000 views and 60,000 events of 12,000 visitors, as a statement writes them quickly.
    await database.execute(sql`
      INSERT INTO page_view (site_id, visitor_id, id, seq, session_id, occurred_at, received_at, address, digest, clock_offset, visit, device, system, browser, is_team, is_robot)
      SELECT ${siteId}, 'large-' || n % 12000, gen_random_uuid(), nextval('arrival_seq'), 's' || n % 24000, at, at,
        ${team.site.address} || (ARRAY['/', '/book', '/crossings/a', '/help'])[1 + n % 7 % 4], '\\x00', 0, 1 + n / 24000,
        (ARRAY['phone', 'desktop'])[1 + n % 2], 'Linux', 'Firefox', false, false
      FROM (SELECT n, timestamptz '2026-10-01' + n % 24000 * interval '1 minute' + n / 24000 * interval '40 s' AS at
        FROM generate_series(1, 60000) n) told`)
    await database.execute(sql`
      INSERT INTO event (site_id, visitor_id, id, seq, session_id, occurred_at, received_at, address, digest, view_id, type, name, amount, currency, once, element, properties)
      SELECT site_id, visitor_id, gen_random_uuid(), nextval('arrival_seq'), session_id, occurred_at + interval '9 s', received_at, address, digest, id, type,
        CASE type WHEN 'custom' THEN 'order' WHEN 'field' THEN 'email' WHEN 'form' THEN 'booking' END,
        CASE type WHEN 'custom' THEN 12.5 END, CASE type WHEN 'custom' THEN 'EUR' END,
        CASE type WHEN 'custom' THEN session_id END, 'body>form:nth-child(1)',
        CASE type WHEN 'field' THEN '{"form":"booking","time":900,"hesitation":100,"isBlank":false,"isRefill":false}'::jsonb
          WHEN 'reading' THEN '{"seen":900,"depth":400,"height":900,"bands":[]}'::jsonb END
      FROM (SELECT *, (ARRAY['click', 'custom', 'field', 'form', 'submit', 'reading', 'dead'])[1 + seq % 7] AS type
        FROM page_view WHERE site_id = ${siteId}) told`)
    await database.execute(sql`ANALYZE page_view, event, visitor`)
    await folded(database, siteId)
    large = { pool: database.$client, siteId, site: await readSiteVisits(database.$client, siteId, null) }
  }, 120_000)

  const month = { from: '2026-10-01', to: '2026-10-18' }
  const FILTERS = [
    {},
    { segment: 'converted:large-order' },
    { segment: 'unconverted:large-order,device:phone' },
    { segment: 'device:desktop', page: 'begins:/crossings/' },
  ]
  const plan = {
    steps: [STEPS[0]!, STEPS[3]!, STEPS[5]!],
    isStrict: true,
    limitMinutes: 60,
    isWithinSession: false,
  }
  const QUESTIONS: [Stated, object][] = [
    ['pages', { metric: 'large-order' }],
    ['overTime', { metric: 'large-order', by: 'device' }],
    ['funnel', { plan }],
    ['forms', {}],
    ['clicks', { of: 'begins:/', kind: 'click', widthFrom: 0, widthBelow: 100_000 }],
    ['reading', { of: 'begins:/', widthFrom: 0, widthBelow: 100_000 }],
    ['flow', { of: '/book' }],
    ['surveys', {}],
    ['candidates', {}],
    ['events', {}],
    ['recordings', { seconds: 30, happened: 'submit,left-form' }],
  ]

  /** The seconds of one pass over everything in its order: what any report has to do. */
  async function onePass(): Promise<number> {
    const began = performance.now()
    await database.execute(sql`
      SELECT kind, count(DISTINCT visitor_id), count(*) FILTER (WHERE nth = 1) FROM (
        SELECT visitor_id, kind, row_number() OVER (PARTITION BY visitor_id, session_id ORDER BY at, seq) AS nth FROM (
          SELECT visitor_id, session_id, occurred_at AS at, seq, 'page' AS kind FROM page_view WHERE site_id = ${large.siteId}
          UNION ALL SELECT visitor_id, session_id, occurred_at, seq, type FROM event WHERE site_id = ${large.siteId}
        ) steps
      ) told GROUP BY 1`)
    return (performance.now() - began) / 1000
  }

  test.each(QUESTIONS)('of %s ends within twenty passes over the events, however it is filtered', async (ask, own) => {
    const pass = Math.max(await onePass(), await onePass())
    for (const filter of FILTERS) {
      const question = { ...month, ...own, ...filter }
      const statement = await (STATEMENTS[ask] as (of: typeof source, asked: object) => Promise<string>)(
        large,
        question,
      )
      const client = await database.$client.connect()
      try {
        await client.query(`SET statement_timeout = ${Math.ceil(20 * pass * 1000)}`)
        await client.query(statement)
      } catch (error) {
        throw new Error(`${ask} ${JSON.stringify(filter)} did not end in ${20 * pass} s`, { cause: error })
      } finally {
        await client.query('RESET statement_timeout').catch(() => {})
        client.release()
      }
    }
  })
})
