import type { PreviewView } from '../../../shared/experiments/replies'
import { and, desc, eq, gt, isNull } from 'drizzle-orm'
import type { InferType } from 'yup'
import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import type { previewSchema } from '../../../shared/experiments/previewLink'
import type { DeliveredPreview } from '../../../shared/delivery/preview'
import type { Queries } from '../../database/connect'
import { person, preview, site } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { servedBeside } from '../rollouts/servedBeside'
import { findSite } from '../sites/sites'
import { pageToken, readPageToken } from './pageToken'
import { findSheet, type Target } from './sheet'
import { DAY } from '../../../core/time/units'

const isHeld = (now: Date) => and(isNull(preview.revokedAt), gt(preview.expiresAt, now))

/** Links to variants of an experiment that hold, the latest first. */
export async function listPreviews(
  database: Queries,
  { siteId, experimentId }: Pick<Target, 'siteId' | 'experimentId'>,
  secret: string,
  now: Date,
): Promise<PreviewView[]> {
  await findSheet(database, siteId, experimentId)
  const { key, address } = await findSite(database, siteId)
  const rows = await database
    .select({ own: preview, person: person.name })
    .from(preview)
    .leftJoin(person, eq(person.id, preview.createdBy))
    .where(and(eq(preview.siteId, siteId), eq(preview.experimentId, experimentId), isHeld(now)))
    .orderBy(desc(preview.id))
  return rows.map(({ own, person: name }) => {
    const link = new URL(own.path, address)
    link.hash = `vetch-point=${pageToken('preview', key, own.id, own.expiresAt.getTime(), secret)}`
    return {
      id: own.id,
      variant: own.variantId,
      path: own.path,
      link: link.href,
      person: name,

      createdAt: own.createdAt.toISOString(),
      expiresAt: own.expiresAt.toISOString(),
    }
  })
}

/**
 * Makes a link that shows a variant to whoever has it.
 *
 * @throws HttpProblem 422 for a variant that is not there, or a page of another site
 */
export async function createPreview(
  database: Queries,
  { siteId, experimentId, personId }: Target,
  { variant, path, days }: InferType<typeof previewSchema>,
  secret: string,
  now: Date,
): Promise<PreviewView> {
  const sheet = await findSheet(database, siteId, experimentId)
  if (!sheet.variants.some(({ id }) => id === variant))
    throw new HttpProblem(422, 'This variant is not there any more. Choose another one.')
  const { address } = await findSite(database, siteId)
  if (new URL(path, address).origin !== new URL(address).origin)
    throw new HttpProblem(422, 'A preview lies on its own site.')
  const expiresAt = new Date(now.getTime() + days * DAY)
  const [made] = await database
    .insert(preview)
    .values({ siteId, experimentId, variantId: variant, path, createdBy: personId, expiresAt })
    .returning({ id: preview.id })
  return (await listPreviews(database, { siteId, experimentId }, secret, now)).find(({ id }) => id === made!.id)!
}

/** Takes a link back: whoever has it open leaves the preview with the next page. */
export async function revokePreview(
  database: Queries,
  { siteId, experimentId }: Pick<Target, 'siteId' | 'experimentId'>,
  previewId: number,
  now: Date,
): Promise<void> {
  const isThis = and(
    eq(preview.siteId, siteId),
    eq(preview.experimentId, experimentId),
    eq(preview.id, previewId),
    isHeld(now),
  )
  const rows = await database.update(preview).set({ revokedAt: now }).where(isThis).returning({ id: preview.id })
  if (rows.length === 0) throw new HttpProblem(404, 'This link has ended already.')
}

/**
 * What a token of a preview shows on the pages of the site of a key.
 *
 * @returns `ended` for one that has run out or was taken back; null for one that is forged or of another site
 */
export async function shownByPreview(
  database: Queries,
  key: string,
  token: string,
  secret: string,
  now: Date,
): Promise<DeliveredPreview | 'ended' | null> {
  const read = readPageToken('preview', key, token, secret)
  if (!read) return null
  const [found] = await database
    .select({ own: preview })
    .from(preview)
    .innerJoin(site, eq(site.id, preview.siteId))
    .where(and(eq(site.key, key), eq(preview.id, read.id), isHeld(now)))
  if (!found) return 'ended'
  const { siteId, experimentId, variantId, expiresAt } = found.own
  const shown = await shownVariants(database, siteId, experimentId, variantId)
  return shown ? { ...shown, expires: expiresAt.getTime(), device: null } : 'ended'
}

/** The variants of an experiment as a page shows them; null for one that was deleted since. */
export async function shownVariants(
  database: Queries,
  siteId: number,
  experimentId: number,
  variantId: string,
): Promise<Omit<DeliveredPreview, 'expires' | 'device'> | null> {
  const sheet = await findSheet(database, siteId, experimentId).catch((error: unknown) => {
    if (error instanceof HttpProblem) return null
    throw error
  })
  if (!sheet) return null
  return {
    experiment: sheet.name,
    pages: sheet.pageRules.map(({ id: _, ...rule }) => rule),
    variants: sheet.variants.map(({ name, edits }) => {
      const allowed = edits.filter(({ kind }) => sheet.allowsScripts || kind !== 'script')
      return { name, edits: orderEdits(allowed).map(deliveredEdit) }
    }),
    served: await servedBeside(database, siteId, experimentId),
    first: Math.max(
      0,
      sheet.variants.findIndex(({ id }) => id === variantId),
    ),
  }
}
