import { expect } from '@playwright/test'
import { build } from 'esbuild'
import { timeOfId } from '../../core/identity/timeOrderedId'
import { PLAIN_TERMS } from '../../core/sheet/terms'
import { replayTerms, type Past } from '../../core/targeting/replay'
import type { Condition, Group } from '../../core/targeting/condition'
import { copyArrivals, copyText } from '../../demo/data/copyArrivals'
import { simulateHistory, type SimulatedVisit } from '../../demo/data/simulateHistory'
import { visitArrival } from '../../demo/data/visitArrival'
import { CROSSINGS_POPULATION } from '../../demo/visitors/population'
import { openPlaces } from '../../server/intake/place'
import { experimentThings } from '../../server/services/audiences/dryRun'
import { pastOfVisitors } from '../../server/services/audiences/pastOfVisitors'
import { fillSheet } from '../../server/services/experiments/changeSheet'
import { createExperiment, moveExperiment } from '../../server/services/experiments/experiments'
import { listSheets } from '../../server/services/experiments/sheet'
import { findIntakeSite, findSiteFile } from '../../server/services/sites/siteFiles'
import { findSite } from '../../server/services/sites/sites'
import { createGroup } from '../../server/services/traffic/groups'
import { createHoldout } from '../../server/services/traffic/holdouts'
import { PLAN, primaryMetric } from '../metrics'
import type { LiveDecisions, LiveVisitor } from './liveDecisions'
import { createTeam } from './team'
import { test } from './world'

const all = (...of: Condition[]): Group => ({ join: 'all', of })
const phone: Condition = { fact: 'device', is: 'oneOf', texts: ['phone'] }
/** On the pages of the crossings, of as many kinds as the past knows of. */
const AUDIENCES: Record<string, Group | null> = {
  everybody: null,
  phones: all(phone),
  neither: { join: 'none', of: [phone, { fact: 'country', is: 'oneOf', texts: ['IE'] }] },
  campaign: all({ fact: 'campaign', is: 'begins', texts: ['spring'] }),
  found: all({ fact: 'sourceKind', is: 'oneOf', texts: ['search'] }),
  returning: all({ fact: 'visitor', is: 'oneOf', texts: ['returning'] }),
  late: all({ fact: 'daysSinceFirst', is: 'least', number: 2 }),
  readers: all({ fact: 'seen', page: { match: 'exact', value: '/timetable' }, is: 'least', number: 1, days: 7 }),
  bookers: all({ fact: 'did', name: 'order', is: 'least', number: 1 }),
  evenings: {
    join: 'any',
    of: [
      { fact: 'hour', is: 'between', number: 20, to: 6 },
      { fact: 'weekday', is: 'oneOf', texts: ['sunday'] },
    ],
  },
  german: all({ fact: 'language', is: 'begins', texts: ['de'] }, { fact: 'screenWidth', is: 'least', number: 1000 }),
  landed: all({ fact: 'landing', is: 'begins', texts: ['/crossings'] }, { fact: 'visits', is: 'most', number: 2 }),
}

test('for 10,000 visitors the dry run of their past says what their browsers decide, to the visitor', async ({
  world,
  page,
}) => {
  test.setTimeout(240_000)
  const { database, demoOrigin } = world
  const { siteId } = await createTeam(world, 'dry-run')
  const { key } = await findSite(database, siteId)
  const [group] = await createGroup(database, siteId, null, { name: 'Parts', kind: 'parts' })
  await createHoldout(database, siteId, null, { name: 'Out', share: 1000, until: '2031-01-01' }, new Date())
  for (const [name, audience] of Object.entries(AUDIENCES)) {
    const { id } = await createExperiment(database, siteId, null, name)
    const target = { siteId, experimentId: id, personId: null }
    const isGrouped = name === 'everybody' || name === 'phones'
    await fillSheet(database, target, {
      pageRules: [{ match: 'begins', value: '/crossings/' }],
      audience,
      plan: PLAN,
      ...(isGrouped ? { share: 3000, terms: { ...PLAIN_TERMS, group: group!.id } } : { share: 7000 }),
      metrics: [primaryMetric('Orders', 'conversion', { type: 'event', name: 'paid' })],
      variants: ['Control', 'B', 'C'].map((variant, index) => ({
        name: variant,
        weight: 1,
        edits:
          index === 0
            ? []
            : [{ id: `edit-${name}-${index}`, kind: 'text', selector: `#${name}`, original: 'a', value: 'b' }],
      })),
    })
    await moveExperiment(database, target, 'start')
  }

  const intake = (await findIntakeSite(database, key))!
  const findPlace = await openPlaces({ country: '', city: '', hasMadeUp: true })
  const until = new Date()
  const visits = [
    ...simulateHistory({
      origin: demoOrigin,
      experiments: [],
      rollouts: [],
      behavior: null,
      survey: null,
      population: CROSSINGS_POPULATION,

      until,
      days: 25,
      visitors: 10_000,
      seed: 20260711,
    }),
  ].flat()
  for (const { pages } of visits)
    for (const { view, events } of pages)
      if (view.address.includes('/book/done'))
        events.push({ id: nextId(view.id), view: view.id, type: 'custom', name: 'order' })
  const arrivals = visits.map((visit) => visitArrival(visit, intake, findPlace))
  await copyArrivals(database.$client, copyText(arrivals))

  const { outputFiles } = await build({
    entryPoints: ['tests/browser/liveDecisions.ts'],
    bundle: true,
    write: false,
    format: 'iife',
    define: { __WITH_RULES__: 'true' },
  })
  await world.serveDemo({ scriptLine: '' })
  await page.goto(`${demoOrigin}/`)
  await page.addScriptTag({ content: outputFiles[0]!.text })
  const siteFile = (await findSiteFile(database, key))!
  const lived = livesOf(visits, (address) => ({ ...findPlace(address) }))
  const decided = await page.evaluate(
    ([file, whom]) =>
      (window as unknown as { liveThrough: (...of: unknown[]) => LiveDecisions }).liveThrough(file, whom),
    [siteFile, lived] as const,
  )

  const sheets = await listSheets(database, siteId, ['running'])
  const things = await experimentThings(database, siteId, sheets, until)
  const pasts = new Map<string, Past>()
  const asked: Group = { join: 'all', of: things.flatMap(({ audience }) => audience ?? []) }
  const ids = lived.map(({ id }) => id)
  for await (const [id, past] of pastOfVisitors(database, siteId, ids, asked, () => true)) pasts.set(id, past)
  let compared = 0
  const shown = new Map<number, number>()
  const different: string[] = []
  for (const { id } of lived) {
    const past = pasts.get(id)!
    for (const thing of things) {
      const { entered, variant } = replayTerms(thing, id, past, () => true)
      const replayed = entered ? `${past.views.indexOf(entered)} ${variant}` : 'never'
      const live = decided[id]![thing.id]?.join(' ') ?? 'never'
      if (replayed !== live) different.push(`${id} ${thing.name}: replayed ${replayed}, live ${live}`)
      if (live !== 'never') shown.set(thing.id, (shown.get(thing.id) ?? 0) + 1)
      compared++
    }
  }
  expect(different.slice(0, 5)).toEqual([])
  expect(lived.length).toBeGreaterThan(9000)
  expect(compared).toBe(lived.length * Object.keys(AUDIENCES).length)
  // Each of them lets somebody in and somebody out: the answers are no empty ones.
  for (const thing of things) {
    expect([thing.name, (shown.get(thing.id) ?? 0) > 5]).toEqual([thing.name, true])
    expect([thing.name, shown.get(thing.id)! < lived.length]).toEqual([thing.name, true])
  }
})

/** An id of a moment after that of a view. */
function nextId(view: string): string {
  const at = BigInt(`0x${view.replaceAll('-', '').slice(0, 12)}`) + 1000n
  const hex = at.toString(16).padStart(12, '0')
  return `${hex.slice(0, 8)}-${hex.slice(8)}${view.slice(13)}`
}

function livesOf(
  visits: readonly SimulatedVisit[],
  placeOf: (address: string) => Record<string, string | null>,
): LiveVisitor[] {
  const lives = new Map<string, LiveVisitor>()
  for (const { visitor, pages } of visits) {
    const { id, userAgent, language, screen, address } = visitor
    if (pages.length === 0) continue
    const life = lives.get(id) ?? { id, userAgent, language, screen: screen[0], place: placeOf(address), views: [] }
    lives.set(id, life)
    for (const { view, events } of pages) {
      const { pathname, search } = new URL(view.address)
      life.views.push({
        at: timeOfId(view.id),
        path: pathname + search,
        referrer: view.referrer ?? '',
        events: events
          .filter(({ type }) => type === 'custom')
          .map((event) => ({ name: event.name!, at: timeOfId(event.id) })),
      })
    }
  }
  return [...lives.values()]
}
