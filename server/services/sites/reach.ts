import { eq } from 'drizzle-orm'
import ipaddr from 'ipaddr.js'
import type { Queries } from '../../database/connect'
import { site } from '../../database/schema'
import { isInNetworks, parseNetworks } from '../../http/clientAddress'

/** What beside public addresses may be fetched on behalf of a person. */
export interface Reach {
  /** Origins that whoever runs Vetch trusts, such as the demo site’s. They may lie on this machine. */
  origins: readonly string[]
  /** Networks and hosts that an owner of the site calls its own. They may lie in a private network. */
  privateHosts: readonly string[]
}

const THIS_MACHINE = ['loopback', 'unspecified']
/** Ranges that an owner may open. The machine itself and its neighbors on the wire are none of them. */
const PRIVATE_RANGES = ['private', 'uniqueLocal', 'carrierGradeNat']

export async function siteReach(database: Queries, siteId: number, origins: readonly string[]): Promise<Reach> {
  const [found] = await database.select({ privateHosts: site.privateHosts }).from(site).where(eq(site.id, siteId))
  return { origins, privateHosts: found?.privateHosts ?? [] }
}

/**
 * Why an address may not be fetched, in a sentence for the person; null where it may.
 *
 * @param resolved - the IP address that its name stands for
 *
 * @example unreachableBecause(new URL('https://shop.example.test'), '93.184.215.14', { origins: [], privateHosts: [] }) // null
 */
export function unreachableBecause(address: URL, resolved: string, { origins, privateHosts }: Reach): string | null {
  const range = ipaddr.process(resolved).range()
  if (range === 'unicast' || origins.includes(address.origin)) return null
  if (THIS_MACHINE.includes(range))
    return `${address.hostname} lies on the machine that Vetch runs on. Only “./vetch start --reach ${address.origin}” lets Vetch open it.`
  if (!PRIVATE_RANGES.includes(range))
    return `${address.hostname} has the address ${resolved}, which Vetch opens no pages from.`
  const isNamed = privateHosts.some((each) => each === address.hostname || each === address.host)
  if (isNamed || isInNetworks(resolved, parseNetworks(privateHosts))) return null
  return `${address.hostname} lies in a private network. An owner can let Vetch open it under Setup → Site → Private networks.`
}
