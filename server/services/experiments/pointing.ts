import type { PointingSession } from '../../../shared/experiments/replies'
import { eq } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { site as siteTable } from '../../database/schema'
import { DEVICE_PLACE, type ToldDevice } from '../../../shared/delivery/toldDevice'
import { HttpProblem } from '../HttpProblem'
import { fetchPage } from '../sites/fetchPage'
import { copyOfPage } from './pageCopy'
import { pageToken, readPageToken } from './pageToken'

const MINUTES = 60

/**
 * A short-lived token that lets one site's pages be opened for pointing, by whoever is signed in with one session: it
 * ends with that session.
 */
export function openPointing(
  site: { id: number; key: string; address: string },
  sessionId: number,
  path: string,
  secret: string,
  now: number,
): PointingSession {
  const expires = now + MINUTES * 60_000
  const token = pageToken('pointing', site.key, sessionId, expires, secret)
  const address = new URL(path, site.address)
  if (address.origin !== new URL(site.address).origin)
    throw new RangeError('A page that is pointed at lies on its own site.')
  const copy = `/copies/${site.key}?${new URLSearchParams({ token, path: address.pathname + address.search }).toString()}`
  address.hash = `vetch-point=${token}`
  return { token, address: address.href, copy, expiresAt: new Date(expires).toISOString() }
}

/**
 * A copy of a page of the site of a key, with the overlay in the place of the script line.
 *
 * @param as - the device that the page is told of, with the script `delivery/device`; null for as it comes
 * @throws HttpProblem with why the page could not be fetched
 */
export async function readPageCopy(
  database: Queries,
  { key, token, path, ownOrigin }: { key: string; token: string; path: string; ownOrigin: string },
  trustedOrigins: readonly string[],
  as: { device: ToldDevice; script: string } | null,
): Promise<string> {
  const [found] = await database
    .select({ address: siteTable.address, privateHosts: siteTable.privateHosts })
    .from(siteTable)
    .where(eq(siteTable.key, key))
  const wanted = found && new URL(path, found.address)
  if (!found || wanted!.origin !== new URL(found.address).origin)
    throw new HttpProblem(422, 'A page that is pointed at lies on its own site.')
  const { address, html } = await fetchPage(
    wanted!.href,
    { origins: trustedOrigins, privateHosts: found.privateHosts },
    as?.device,
  )
  const { pathname, search } = new URL(address)
  const overlay = `${ownOrigin}/overlay.js?${new URLSearchParams({ key, token }).toString()}`
  const first = as?.script.replace(DEVICE_PLACE, () => JSON.stringify(as.device))
  return copyOfPage(html, { address, overlay, path: pathname + search, first })
}

/**
 * The session that a token was given out to, for the site of a key.
 *
 * @returns null for a token that is forged, of another site, or has run out
 */
export function sessionOfPointing(key: string, token: string, secret: string, now: number): number | null {
  const found = readPageToken('pointing', key, token, secret)
  return found && found.expires > now ? found.id : null
}
