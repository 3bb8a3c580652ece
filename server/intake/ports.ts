import { useRuntimeConfig } from '#imports'
import { and, eq } from 'drizzle-orm'
import { database } from '../database/database'
import { isDatabaseAway } from '../database/isDatabaseAway'
import { visitor } from '../database/schema'
import { keptByVersion } from '../services/keptByVersion'
import { rememberBriefly } from '../services/rememberBriefly'
import { findIntakeSite, findSiteVersions } from '../services/sites/siteFiles'
import type { CollectPorts } from './collect'
import { createRefusalCounter } from './countRefusals'
import { groupCommit } from './groupCommit'
import { hashNetwork } from './hashNetwork'
import { newcomerBudget } from './newcomers'
import { openPlaces } from './place'
import { createTrafficLimits } from './trafficLimits'
import { writeArrivals, type Arrival } from './writeArrivals'

let ports: Promise<CollectPorts> | undefined

/** What intake works with in this process: opened at the first batch. */
export function intakePorts(): Promise<CollectPorts> {
  ports ??= open().catch((error: unknown) => {
    ports = undefined
    throw error
  })
  return ports
}

export const noteRefusals = createRefusalCounter(() => database().$client, isDatabaseAway)

async function open(): Promise<CollectPorts> {
  const { sessionPassword, placeCountryFile, placeCityFile, hasMadeUpPlaces, newVisitorsASecond } = useRuntimeConfig()
  return {
    findSite: rememberBriefly(
      keptByVersion(
        async (key) => (await findSiteVersions(database(), key))?.intake ?? null,
        (key) => findIntakeSite(database(), key),
      ),
      1000,
    ),
    write: groupCommit<Arrival, Set<string>>(
      (arrivals) => writeArrivals(database().$client, arrivals),
      ({ views, events }) => views.length + events.length,
      { isConnectionLost: isDatabaseAway },
    ),
    isKnownVisitor: async (siteId, id) => {
      const [found] = await database()
        .select({ id: visitor.id })
        .from(visitor)
        .where(and(eq(visitor.siteId, siteId), eq(visitor.id, id)))
      return found !== undefined
    },
    limits: createTrafficLimits({
      mayCome: newcomerBudget(() => database().$client, {
        burst: newVisitorsASecond * 10,
        aSecond: newVisitorsASecond,
      }),
    }),
    findPlace: await openPlaces({ country: placeCountryFile, city: placeCityFile, hasMadeUp: hasMadeUpPlaces }),
    hashNetwork: (address, day) => hashNetwork(sessionPassword, address, day),
  }
}
