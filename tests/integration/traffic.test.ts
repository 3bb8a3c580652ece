import { eq } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { dayAfter, siteDays } from '../../core/time/siteDay'
import { connect } from '../../server/database/connect'
import { site } from '../../server/database/schema'
import { readDimensionValues, readTraffic } from '../../server/services/traffic/traffic'
import { folded, happen, type Happening } from '../arrivals'
import { createTeam } from './people'
import { ownStack } from './ownStack'

const { databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
afterAll(() => database.$client.end())

/** Clocks in Ireland change on March 29, 2026, and on October 25. */
const CHANGES = [Date.UTC(2026, 2, 29, 1), Date.UTC(2026, 9, 25, 1)]
const MINUTE = 60_000
const TIME_ZONE = 'Europe/Dublin'
const dayOf = siteDays(TIME_ZONE)
let seed = 5
const draw = (below: number) => (seed = (seed * 48_271) % 2_147_483_647) % below

/** Visits of up to three views, within four days around a change of clocks, many of them close to midnight. */
const visits = [...Array(400).keys()].map((index) => {
  const midnight = Math.floor(CHANGES[index % 2]! / 86_400_000) * 86_400_000 + (draw(5) - 2) * 86_400_000
  const start = midnight + (draw(3) === 0 ? draw(24 * 60) : draw(180) - 90) * MINUTE
  const device = ['phone', 'desktop', 'tablet'][draw(3)]!
  return { visitor: `visitor-${draw(150)}`, session: `session-${index}`, start, device, views: 1 + draw(3) }
})
let siteId: number

beforeAll(async () => {
  const team = await createTeam(database)
  siteId = team.site.id
  await database.update(site).set({ timeZone: TIME_ZONE }).where(eq(site.id, siteId))
  const happenings = visits.flatMap(({ visitor, session, start, device, views }): Happening[] =>
    [...Array(views).keys()].map((view) => ({
      visitor,
      at: start + view * MINUTE,
      view: { device, sessionId: session },
    })),
  )
  const robot = { visitor: 'a-robot', at: visits[0]!.start, view: { isRobot: true, sessionId: 'robot' } }
  await happen(database, team.site, [...happenings, robot])
  await folded(database, siteId)
})

/** What the visits themselves say. */
function recomputed(from: string, to: string, device: string | null) {
  const own = visits.filter((visit) => {
    const day = dayOf(visit.start)
    return day >= from && day <= to && (device === null || visit.device === device)
  })
  return {
    visitors: new Set(own.map(({ visitor }) => visitor)).size,
    visits: own.length,
    views: own.reduce((sum, { views }) => sum + views, 0),
  }
}

test('every figure of the traffic is that of the visits themselves, also across midnight and where clocks change', async () => {
  for (let round = 0; round < 12; round++) {
    const from = dayAfter(round % 2 ? '2026-03-26' : '2026-10-22', draw(4))
    const to = dayAfter(from, draw(4))
    const device = [null, 'phone', 'desktop'][draw(3)]!
    const range = { from, to, ...(device ? { segment: `device:${device}` } : {}) }
    const { days, total, before } = await readTraffic(database, siteId, range)
    expect([range, total]).toEqual([range, recomputed(from, to, device)])
    const count = Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000) + 1
    expect(before).toEqual(recomputed(dayAfter(from, -count), dayAfter(from, -1), device))
    for (const { day, ...figures } of days) expect([day, figures]).toEqual([day, recomputed(day, day, device)])
    expect(days.reduce((sum, each) => sum + each.visits, 0)).toBe(total.visits)
  }
})

test('the choice of visitors holds what there was lately', async () => {
  const team = await createTeam(database)
  const at = Date.now() - 3_600_000
  await happen(database, team.site, [
    { visitor: 'visitor-a', at, view: { device: 'phone', country: 'IE', sessionId: 'a' } },
    { visitor: 'visitor-b', at, view: { device: 'phone', country: null, sessionId: 'b' } },
  ])
  await folded(database, team.site.id)
  const values = new Map(
    (await readDimensionValues(database, team.site.id)).map(({ dimension, values: own }) => [dimension, own]),
  )
  expect(values.get('device')).toEqual(['phone'])
  expect(values.get('country')).toEqual(['IE'])
})
