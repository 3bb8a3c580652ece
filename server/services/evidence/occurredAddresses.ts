import type { AddressesView } from '../../../shared/evidence/replies'
import type { Database } from '../../database/connect'
import { findSite } from '../sites/sites'
import { OCCURRED_ADDRESSES } from './queries'
import { DAY } from '../../../core/time/units'

const DAYS = 28
/** Rules are tried on these in the browser. */
const MOST = 2000

/** The addresses that visitors opened in the last four weeks, those with the most visitors first. */
export async function occurredAddresses(database: Database, siteId: number, now: Date): Promise<AddressesView> {
  const { address } = await findSite(database, siteId)
  const from = new Date(now.getTime() - DAYS * DAY)
  const { rows } = await database.$client.query<AddressesView['addresses'][number]>(OCCURRED_ADDRESSES, [
    ...[siteId, from, now, DAYS, MOST],
  ])
  return { host: new URL(address).host, addresses: rows }
}
