import type { PinnedDevice } from '../../../shared/delivery/deviceOperations'
import { and, asc, eq, gt, isNull } from 'drizzle-orm'
import type { InferType } from 'yup'
import { MOST_DEVICES, type deviceShowsSchema } from '../../../shared/delivery/pinnedDevice'
import type { DeliveredPreview } from '../../../shared/delivery/preview'
import type { Queries } from '../../database/connect'
import { experiment, pinnedDevice, site } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'
import { pageToken, readPageToken } from './pageToken'
import { shownVariants } from './previews'
import { findSheet } from './sheet'
import { DAY } from '../../../core/time/units'

const YEAR = 365 * DAY
const GONE = 'This device is unpinned.'

interface Asking {
  siteId: number
  /** Signs tokens. */
  secret: string
  now: Date
}

const isPinned = (siteId: number, now: Date) =>
  and(eq(pinnedDevice.siteId, siteId), isNull(pinnedDevice.revokedAt), gt(pinnedDevice.expiresAt, now))

/** The pinned devices of a site by name, and what each of them shows. */
export async function listDevices(database: Queries, { siteId, secret, now }: Asking): Promise<PinnedDevice[]> {
  const { key, address } = await findSite(database, siteId)
  const rows = await database
    .select({ own: pinnedDevice, experiment: experiment.name })
    .from(pinnedDevice)
    .leftJoin(experiment, and(eq(experiment.siteId, siteId), eq(experiment.id, pinnedDevice.experimentId)))
    .where(isPinned(siteId, now))
    .orderBy(asc(pinnedDevice.name), asc(pinnedDevice.id))
  return rows.map(({ own, experiment: name }) => {
    const link = new URL(address)
    link.hash = `vetch-point=${pageToken('device', key, own.id, own.expiresAt.getTime(), secret)}`
    return {
      id: own.id,
      name: own.name,
      link: link.href,
      experimentId: own.experimentId,
      experiment: name,

      variant: own.variantId,
      createdAt: own.createdAt.toISOString(),
      expiresAt: own.expiresAt.toISOString(),
      seenAt: own.seenAt?.toISOString() ?? null,
    }
  })
}

/** Makes a link that pins the device on which it is opened, for a year. */
export async function pinDevice(
  database: Queries,
  asking: Asking,
  personId: number | null,
  name: string,
): Promise<PinnedDevice> {
  const { siteId, now } = asking
  if ((await listDevices(database, asking)).length >= MOST_DEVICES)
    throw new HttpProblem(422, `At most ${MOST_DEVICES} devices are pinned. Unpin one that is used no more.`)
  const [made] = await database
    .insert(pinnedDevice)
    .values({ siteId, name, createdBy: personId, expiresAt: new Date(now.getTime() + YEAR) })
    .returning({ id: pinnedDevice.id })
  return findDevice(database, asking, made!.id)
}

async function findDevice(database: Queries, asking: Asking, deviceId: number): Promise<PinnedDevice> {
  const found = (await listDevices(database, asking)).find(({ id }) => id === deviceId)
  if (!found) throw new HttpProblem(404, GONE)
  return found
}

/**
 * Chooses what a device shows.
 *
 * @throws HttpProblem 404 for a device that is pinned no more, 422 for a variant that is not there
 */
export async function showOnDevice(
  database: Queries,
  asking: Asking,
  deviceId: number,
  { experiment: experimentId, variant }: InferType<typeof deviceShowsSchema>,
): Promise<PinnedDevice> {
  const { siteId, now } = asking
  if (experimentId !== null) {
    const { variants } = await findSheet(database, siteId, experimentId)
    if (!variants.some(({ id }) => id === variant))
      throw new HttpProblem(422, 'This variant is not there any more. Choose another one.')
  }
  await database
    .update(pinnedDevice)
    .set({ experimentId, variantId: experimentId === null ? null : variant })
    .where(and(isPinned(siteId, now), eq(pinnedDevice.id, deviceId)))
  return findDevice(database, asking, deviceId)
}

export async function unpinDevice(database: Queries, siteId: number, deviceId: number, now: Date): Promise<void> {
  const gone = await database
    .update(pinnedDevice)
    .set({ revokedAt: now })
    .where(and(isPinned(siteId, now), eq(pinnedDevice.id, deviceId)))
    .returning({ id: pinnedDevice.id })
  if (gone.length === 0) throw new HttpProblem(404, GONE)
}

/**
 * What a device that holds a token shows on the pages of the site of a key. Notes that it was there.
 *
 * @returns `ended` for a device that is pinned no more; null for a token that is forged or of another site
 */
export async function shownOnDevice(
  database: Queries,
  key: string,
  token: string,
  secret: string,
  now: Date,
): Promise<DeliveredPreview | 'ended' | null> {
  const read = readPageToken('device', key, token, secret)
  if (!read) return null
  const [owner] = await database.select({ id: site.id }).from(site).where(eq(site.key, key))
  if (!owner) return null
  const [device] = await database
    .update(pinnedDevice)
    .set({ seenAt: now })
    .where(and(isPinned(owner.id, now), eq(pinnedDevice.id, read.id)))
    .returning()
  if (!device) return 'ended'
  const { experimentId, variantId, name, expiresAt } = device
  const asItIs = { experiment: '', pages: [], variants: [], served: [], first: 0 }
  const shown =
    experimentId === null || variantId === null
      ? null
      : await shownVariants(database, owner.id, experimentId, variantId)
  return { ...(shown ?? asItIs), expires: expiresAt.getTime(), device: name }
}
