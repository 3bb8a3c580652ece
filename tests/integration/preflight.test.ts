import type { ExperimentSheet } from '../../shared/experiments/replies'
import { lookingWith, onEmptyPages } from '../triedPages'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { resolve } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { DEFAULT_PLAN } from '../../core/sheet/defaultPlan'
import { isSame } from '../../core/sheet/isSame'
import type { Condition } from '../../core/targeting/condition'
import { connect } from '../../server/database/connect'
import { changeSheet, fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { countElements } from '../../server/services/sites/countElements'
import { changesOf } from '../../server/services/changes'
import { checkDrift, dueForDriftCheck } from '../../server/services/experiments/driftCheck'
import { preflightReport } from '../../server/services/experiments/preflightReport'
import { askApproval } from '../../server/services/experiments/review'
import type { TryPage } from '../../server/services/experiments/triedPages'
import { experimentResults } from '../../server/services/results/results'
import { today } from '../../server/services/today'
import { findSheet } from '../../server/services/experiments/sheet'
import { siteMembers } from '../../server/services/accounts/siteMembers'
import { HttpProblem } from '../../server/services/HttpProblem'
import { NotReached } from '../../server/services/sites/fetchGuarded'
import { pageTrier } from '../../server/services/sites/tryPage'
import { noteFirstReport } from '../../server/services/sites/sites'
import { contentOf } from '../../shared/experiments/experiment'
import { prepareChange } from '../../shared/experiments/sheetChange'
import { happen, type Happening } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { drawnChange } from '../sheetChanges'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { DAY } from '../../core/time/units'

const VISITORS = 2800
const database = connect(ownStack().databaseUrl, 4)
const now = new Date()
let team: Awaited<ReturnType<typeof createTeam>>
let pages: Server

beforeAll(async () => {
  team = await createTeam(database)
  await noteFirstReport(database, team.site.id)
  // Every fourth visitor of the page orders afterwards; one of ten had ordered before, which does not count.
  const happenings = [...Array(VISITORS).keys()].flatMap((index): Happening[] => {
    const at = now.getTime() - DAY - (index % 26) * DAY
    const visitor = `visitor-${index}`
    return [
      { visitor, at, path: '/tested?utm_campaign=spring' },
      ...(index % 4 === 0 ? [{ visitor, at: at + 60_000, type: 'custom', name: 'order' } as const] : []),
      ...(index % 10 === 1 ? [{ visitor, at: at - 60_000, type: 'custom', name: 'order' } as const] : []),
      ...(index < 300 ? [{ visitor, at: at + 90_000, path: '/other' }] : []),
    ]
  })
  await happen(database, team.site, [
    ...happenings,
    { visitor: 'a-robot', at: now.getTime() - DAY, path: '/tested', view: { isRobot: true } },
    { visitor: 'long-ago', at: now.getTime() - 40 * DAY, path: '/tested' },
  ])
  pages = createServer((_, reply) => reply.end('<h1>Three <b>islands</b></h1><p>a</p><p>b</p>'))
  await new Promise<void>((listening) => pages.listen(0, '127.0.0.1', listening))
})
afterAll(async () => {
  pages.close()
  await database.$client.end()
})

async function draft(name: string, path: string, selector = 'h1'): Promise<ExperimentSheet> {
  const { id } = await createExperiment(database, team.site.id, null, name)
  return fillSheet(database, target(id), {
    pageRules: [{ match: 'exact', value: path }],
    metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'order' })],
    variants: [
      { id: 'variant-a', name: 'Control', weight: 1, edits: [] },
      {
        id: 'variant-b',
        name: 'Warm',
        weight: 1,
        edits: [{ id: 'edit-0001', kind: 'text', selector, original: 'Three islands', value: 'New' }],
      },
    ],
    plan: { ...DEFAULT_PLAN, smallestLift: 0.3 },
  })
}
const target = (experimentId: number) => ({ siteId: team.site.id, experimentId, personId: null })
const report = (id: number) =>
  preflightReport(
    database,
    team.site.id,
    id,
    now,
    lookingWith(database, async (address, selectors) => {
      const origin = `http://127.0.0.1:${(pages.address() as AddressInfo).port}`
      const tryPage = pageTrier(resolve('.output/threads/inspectPage.mjs'), { origins: [origin], privateHosts: [] })
      return tryPage(origin + new URL(address).pathname, selectors)
    }),
  )

const ordered = { fact: 'did', name: 'order', is: 'least', number: 1 } as const
const desktop = { fact: 'device', is: 'oneOf', texts: ['desktop'] } as const
const tablet = { fact: 'device', is: 'oneOf', texts: ['tablet'] } as const
const campaign = { fact: 'campaign', is: 'oneOf', texts: ['spring'] } as const
const plan = { fact: 'attribute', name: 'plan', is: 'oneOf', texts: ['gold'] } as const
test.each<[string, Condition[], number, RegExp]>([
  [
    'one of ten had ordered a minute before',
    [desktop, ordered],
    VISITORS / 10,
    /included 10 %\. “did “order” at least once” excluded 90 %/,
  ],
  ['everybody', [desktop], VISITORS, /included everybody: it rules nobody out/],
  // Those came first to the page where they ordered, by no campaign.
  ['all but those of no campaign', [campaign], VISITORS * 0.9, /“campaign is spring” excluded 10 %/],
  ['nobody', [tablet], 0, /included nobody/],
  ['whom the past does not tell', [campaign, plan], 0, /Past data does not say attribute/],
])('an audience is replayed over the last four weeks: %s', async (name, of, visitors, said) => {
  const sheet = await draft(name, '/tested')
  await fillSheet(database, target(sheet.id), { audience: { join: 'all', of } })
  const { forecast, findings } = await report(sheet.id)
  expect(forecast.visitors).toBe(visitors)
  expect(findings.map(({ text }) => text).join(' ')).toMatch(said)
})

test('the plan is computed from the visitors of the page and what they did from there on, and the start writes it down', async () => {
  const sheet = await draft('Computed', '/tested')
  const { forecast, pages: tried, findings } = await report(sheet.id)
  expect(forecast).toMatchObject({ days: 28, visitors: VISITORS, sampled: VISITORS, mean: 0.25 })
  expect(tried).toEqual(['/tested'])
  expect(findings).toEqual([])
  const started = await moveExperiment(database, target(sheet.id), 'start')
  expect(started.plan.baseline).toBe(0.25)
  // 700 a week, for six weeks at most.
  expect(started.plan.plannedVisitors).toBeGreaterThan(100)
  expect(started.plan.plannedVisitors).toBeLessThanOrEqual(4200)

  const same = await draft('The same element', '/tested')
  const beside = await draft('Another element', '/other', 'p')
  expect((await report(same.id)).findings).toContainEqual({
    section: 'what',
    isStop: true,
    text: expect.stringMatching(/“Computed” is running and changes the same element, h1; 2,800 visitors/),
  })
  await expect(moveExperiment(database, target(same.id), 'start')).rejects.toMatchObject({
    status: 422,
    message: expect.stringMatching(/changes the same element/),
  })
  const texts = (await report(beside.id)).findings.map(({ text }) => text)
  expect(texts).toContainEqual(expect.stringMatching(/also take part in “Computed” \(300\)/))
  expect(texts).toContainEqual(expect.stringMatching(/p finds 2 elements on \/other/))
  await moveExperiment(database, target(sheet.id), 'end')
})

test('where nobody came the plan is to be typed, and an unseen page and a selector of nothing are told', async () => {
  const sheet = await draft('Nobody', '/unseen', '.nothing')
  const { forecast, findings } = await report(sheet.id)
  expect(forecast).toMatchObject({ visitors: 0, mean: null })
  expect(findings.map(({ isStop, text }) => [isStop, text])).toEqual([
    [false, expect.stringMatching(/\.nothing is not on \/unseen/)],
    [false, expect.stringMatching(/The script line is not on \/unseen/)],
    [false, expect.stringMatching(/No visitor saw these pages/)],
    [true, expect.stringMatching(/Say how many visitors/)],
  ])
  await fillSheet(database, target(sheet.id), { plan: PLAN })
  expect((await report(sheet.id)).findings.some(({ isStop }) => isStop)).toBe(false)
})

test('an element that the page builds in the browser is known by the clicks on it', async () => {
  const sheet = await draft('Built in the browser', '/tested', '#built')
  expect((await report(sheet.id)).findings.map(({ text }) => text)).toContainEqual(
    expect.stringMatching(/#built is not on \/tested, as the page is served, and nobody clicked it/),
  )
  const click = { visitor: 'clicks-built', type: 'click', path: '/tested', at: now.getTime() - 3_600_000 } as const
  await happen(database, team.site, [{ ...click, element: 'body>main:nth-child(1)>button#built:nth-child(2)' }])
  expect((await report(sheet.id)).findings.filter(({ section }) => section === 'what')).toEqual([])
})

test('a metric whose element is on no visited page is told', async () => {
  const sheet = await draft('Mistyped', '/tested')
  const clicks = primaryMetric('Clicks', 'conversion', { type: 'click', selector: '#mistyped' })
  await fillSheet(database, target(sheet.id), { metrics: [clicks] })
  const texts = (await report(sheet.id)).findings.map(({ text }) => text)
  expect(texts).toContainEqual(expect.stringMatching(/“Clicks”: #mistyped is on none of the most visited pages/))
  expect(texts).toContainEqual(expect.stringMatching(/“Clicks” counted nothing of 2,80\d visitors/))
})

test('several changes in one variant, a redirect without an answer, and a page without the script line are told', async () => {
  const sheet = await draft('Redirected', '/tested')
  const hidden = (selector: string) => ({
    id: `edit-${selector}-1`,
    kind: 'hide' as const,
    selector,
    keepsSpace: false,
  })
  const redirect = (value: string) => ({ id: 'edit-redirect', kind: 'redirect' as const, value })
  const variants = [
    sheet.variants[0]!,
    { name: 'Two things', weight: 1, edits: [hidden('h1'), hidden('b')] },
    { name: 'Gone', weight: 1, edits: [redirect('/gone')] },
    { name: 'Bare', weight: 1, edits: [redirect('/bare')] },
    { name: 'Sound', weight: 1, edits: [redirect('/sound')] },
    { name: 'Inside', weight: 1, edits: [redirect('/inside')] },
  ]
  const metrics = [primaryMetric('Thanks', 'conversion', { type: 'visit', page: { match: 'exact', value: '/thanks' } })]
  await fillSheet(database, target(sheet.id), { variants, metrics })
  const asked = async (address: string, selectors: readonly string[]) => {
    const { pathname } = new URL(address)
    if (pathname === '/gone') throw new HttpProblem(422, `${address} answered with status 404.`)
    if (pathname === '/inside') throw new NotReached('It lies in a private network.')
    const found = selectors.map((selector) => ({
      selector,
      text: 'x',
      matches: selector.startsWith('script') && pathname !== '/sound' ? 0 : 1,
    }))
    return { found, policies: [] }
  }
  const { findings } = await preflightReport(database, team.site.id, sheet.id, now, lookingWith(database, asked))
  const texts = findings.map(({ text, isStop }) => `${isStop ? 'stop' : 'told'}: ${text}`)
  for (const expected of [
    'told: Two things: it changes 2 separate things: h1, b.',
    'stop: Gone: the page that it sends visitors to does not answer as it should.',
    'stop: Bare: /bare, where it sends visitors, does not carry the script line',
    'told: Inside: Vetch cannot open the page that it sends visitors to. It lies in a private network.',
    'told: The script line is not on /thanks,',
  ])
    expect(texts).toContainEqual(expect.stringContaining(expected))
  expect(texts.filter((text) => text.includes('Sound'))).toEqual([])
})

test('a page that changes while the experiment runs is told on its results and on Today, until it is as it was', async () => {
  const sheet = await draft('Drifting', '/tested')
  await moveExperiment(database, target(sheet.id), 'start')
  const says =
    (text: string | null): TryPage =>
    async (_, selectors) => ({
      found: selectors.map((selector) => {
        // The line stays wherever the heading is.
        const isThere = selector.startsWith('script') ? hasLine : text !== null
        return { selector, matches: isThere ? 1 : 0, text }
      }),
      policies: [],
    })
  let hasLine = true
  const later = (hours: number) => new Date(now.getTime() + hours * 3_600_000)
  const isDue = async (at: Date) =>
    (await dueForDriftCheck(database, at)).some(({ experimentId }) => experimentId === sheet.id)
  const look = async (hours: number, text: string | null) => {
    await checkDrift(database, target(sheet.id), later(hours), says(text))
    const running = await findSheet(database, team.site.id, sheet.id)
    const { soundness } = await experimentResults(database, running, later(hours))
    const { needs } = await today(database, team.site.id, later(hours))
    return [
      soundness.flatMap(({ kind, text: said }) => (kind === 'drift' ? [said] : [])),
      needs.flatMap(({ kind, title }) => (kind === 'drift' ? [title] : [])),
    ]
  }
  expect(await isDue(now)).toBe(true)
  expect(await look(0, 'Three islands')).toEqual([[], []])
  expect([await isDue(later(0.5)), await isDue(later(1.5))]).toEqual([false, true])
  expect(await look(2, 'Two islands')).toEqual([
    [expect.stringMatching(/The page has changed since the start\. Warm: on \/tested, h1 says “Two islands”/)],
    ['The page of Drifting has changed'],
  ])
  expect((await look(3, null))[0]).toEqual([expect.stringMatching(/h1 is not on \/tested, as the page is served/)])
  hasLine = false
  expect(await look(3.5, 'Three islands')).toEqual([
    ['The page has changed since the start. /tested does not carry the script line any more.'],
    ['The page of Drifting has changed'],
  ])
  hasLine = true
  expect(await look(4, 'Three islands')).toEqual([[], []])
  await moveExperiment(database, target(sheet.id), 'end')
  expect(await isDue(later(10))).toBe(false)
})

test('a redirect that fails while it runs pauses the experiment, which says so until it is resumed', async () => {
  const sheet = await draft('Redirecting', '/tested')
  const edits = [{ id: 'redirect-0001', kind: 'redirect', value: '/elsewhere' } as const]
  const [control, other] = sheet.variants
  await fillSheet(database, target(sheet.id), { variants: [control!, { ...other!, edits }] })
  await moveExperiment(database, target(sheet.id), 'start')
  let asked = 0
  let isAway = false
  const answers =
    (failures: number): TryPage =>
    async (address, selectors) => {
      if (isAway) throw new NotReached('It cannot be reached.')
      if (address.endsWith('/elsewhere') && ++asked <= failures)
        throw new HttpProblem(422, 'It answered with status 503.')
      return { found: selectors.map((selector) => ({ selector, matches: 1, text: null })), policies: [] }
    }
  const look = async (failures: number) => {
    asked = 0
    await checkDrift(database, target(sheet.id), now, answers(failures))
    return (await findSheet(database, team.site.id, sheet.id)).state
  }
  expect(await look(0)).toBe('running')
  // One failure may pass by; two in a row do not.
  expect(await look(1)).toBe('running')
  expect(await look(2)).toBe('paused')
  const isOwn = ({ title }: { title: string }) => title === 'Redirecting has paused itself'
  const { needs } = await today(database, team.site.id, now)
  expect(needs.find(isOwn)?.text).toContain(
    '/elsewhere, which does not answer as it should. It answered with status 503.',
  )
  const { items } = await changesOf(database, team.site.id, { subject: 'experiment', id: sheet.id }, { limit: 1 })
  expect(items[0]!.words).toContain('paused itself:')
  await moveExperiment(database, target(sheet.id), 'resume')
  expect((await today(database, team.site.id, now)).needs.some(isOwn)).toBe(false)

  // A page that was there at the start and is not any more fails as well.
  isAway = true
  expect(await look(0)).toBe('paused')
})

test('a redirect that Vetch could not reach at the start either goes on', async () => {
  const sheet = await draft('Inside', '/tested')
  const edits = [{ id: 'redirect-0001', kind: 'redirect', value: '/inside' } as const]
  const [control, other] = sheet.variants
  await fillSheet(database, target(sheet.id), { variants: [control!, { ...other!, edits }] })
  await moveExperiment(database, target(sheet.id), 'start')
  const away: TryPage = () => Promise.reject(new NotReached('It lies in a private network.'))
  for (const hours of [0, 1]) await checkDrift(database, target(sheet.id), new Date(now.getTime() + hours), away)
  expect((await findSheet(database, team.site.id, sheet.id)).state).toBe('running')
})

test('an audience in another language than its page is told', async () => {
  const sheet = await draft('In German', '/tested')
  await fillSheet(database, target(sheet.id), {
    audience: { join: 'all', of: [{ fact: 'language', is: 'begins', texts: ['de'] }] },
  })
  const inLanguage = async (language: string | null) => {
    const html = `<!doctype html><html${language ? ` lang="${language}"` : ''}><h1>Three islands</h1></html>`
    const report = await preflightReport(
      database,
      team.site.id,
      sheet.id,
      now,
      lookingWith(database, async (_, selectors) => countElements(html, selectors)),
    )
    return report.findings.some(({ text }) => text.startsWith('The audience asks for German, and /tested'))
  }
  expect(await Promise.all(['en', 'de', 'de-AT', 'DE', null].map(inLanguage))).toEqual([
    true,
    false,
    false,
    false,
    false,
  ])
})

test('code that the policy of a page forbids is told: by its header, and by its markup', async () => {
  const sheet = await draft('With code', '/tested')
  const [control, other] = sheet.variants
  const edits = [{ id: 'script-00001', kind: 'script', value: 'document.title = "B"' } as const]
  await fillSheet(database, target(sheet.id), { variants: [control!, { ...other!, edits }] })
  const forbidden = async (header: string[], markup: string) => {
    const html = `<!doctype html><head>${markup}</head><h1>Three islands</h1>`
    const report = await preflightReport(
      database,
      team.site.id,
      sheet.id,
      now,
      lookingWith(database, async (_, selectors) => {
        const counted = countElements(html, selectors)
        return { ...counted, policies: [...header, ...counted.policies] }
      }),
    )
    return report.findings.filter(({ text }) => text.startsWith('/tested forbids scripts')).length
  }
  expect(await forbidden([], '')).toBe(0)
  expect(await forbidden(["script-src 'self'"], '')).toBe(1)
  expect(await forbidden([], `<meta http-equiv="Content-Security-Policy" content="default-src 'self'">`)).toBe(1)
})

test('random changes, undone and done again, leave in the database what the model says', async () => {
  const { id } = await draft('Random', '/tested')
  const read = async () => contentOf(await findSheet(database, team.site.id, id))
  const save = (change: Parameters<typeof prepareChange>[1]) =>
    changeSheet(database, target(id), { id: crypto.randomUUID(), change })
  const before = await read()
  let model = before
  const back: Parameters<typeof prepareChange>[1][] = []
  let seed = 7
  const next = () => (seed = (seed * 48_271) % 2_147_483_647) % 100
  for (let step = 0; step < 60; step++) {
    const change = drawnChange(model, [next(), next(), next(), next()])
    try {
      const { content, inverse } = prepareChange(model, change)
      await save(change)
      model = content
      back.push(inverse)
    } catch {
      await expect(save(change)).rejects.toMatchObject({ status: expect.any(Number) })
    }
  }
  expect(back.length).toBeGreaterThan(20)
  expect(isSame(await read(), model)).toBe(true)
  for (const inverse of back.reverse()) await save(inverse)
  expect(isSame(await read(), before)).toBe(true)
})

test('Today says that a draft can start where its preflight lets it, that it waits for an answer, and neither to who may not', async () => {
  const { look } = lookingWith(database, onEmptyPages)
  const told = async (looking?: typeof look) =>
    (await today(database, team.site.id, now, null, looking)).needs
      .filter(({ kind, title }) => kind === 'draft' && /^(First|Second) on/.test(title))
      .map(({ title }) => title)
      .sort()
  const first = await draft('First on the headline', '/tested')
  const second = await draft('Second on the headline', '/tested')
  await expect
    .poll(() => told(look), { timeout: 120_000 })
    .toEqual(['First on the headline can start', 'Second on the headline can start'])
  // Whoever may start nothing is told nothing of it.
  expect(await told()).toEqual([])

  await moveExperiment(database, target(first.id), 'start')
  expect((await report(second.id)).findings.some(({ isStop }) => isStop)).toBe(true)
  await expect.poll(() => told(look)).toEqual([])
  await moveExperiment(database, target(first.id), 'end')
  await expect.poll(() => told(look)).toEqual(['Second on the headline can start'])

  const [member] = await siteMembers(database, team.site.id)
  await askApproval(database, target(second.id), member!.id)
  // Another version, of which nothing is kept yet.
  await fillSheet(database, target(second.id), { share: 9000 })
  await expect.poll(() => told(look)).toEqual(['Second on the headline waits for approval'])
})
