import { LRUCache } from 'lru-cache'
import type { Database } from '../../database/connect'
import { forecastOf, seenAddresses } from './forecast'
import type { PastTraffic } from './lookAtTraffic'

/** Four weeks are much the same a minute later, in ms. */
const KEPT_FOR = 60_000
const MOST_KEPT = 100

type SeenAddresses = Awaited<ReturnType<typeof seenAddresses>>
type Forecasts = Awaited<ReturnType<typeof forecastOf>>

/**
 * Past traffic that is read once a minute, however often somebody changes a sheet and looks again. Where nobody came
 * yet it is always read: the first visitor shows at once.
 */
export function keptTraffic(): PastTraffic {
  const addresses = new LRUCache<string, SeenAddresses>({ max: MOST_KEPT, ttl: KEPT_FOR })
  const forecasts = new LRUCache<string, Forecasts>({ max: MOST_KEPT, ttl: KEPT_FOR })
  return {
    async seenAddresses(database: Database, siteId: number, now: Date) {
      const key = String(siteId)
      const found = addresses.get(key) ?? (await seenAddresses(database, siteId, now))
      if (found.length > 0 && !addresses.has(key)) addresses.set(key, found)
      return found
    },
    async forecastOf(database, siteId, of, asked, now) {
      const key = JSON.stringify([siteId, of, asked])
      const found = forecasts.get(key) ?? (await forecastOf(database, siteId, of, asked, now))
      if (found.forecast.visitors > 0 && !forecasts.has(key)) forecasts.set(key, found)
      return found
    },
  }
}
