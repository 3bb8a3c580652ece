import { createHash } from 'node:crypto'
import { and, eq } from 'drizzle-orm'
import { LARGEST_SITE_PICTURE } from '../../../shared/pictures/siteOperations'
import type { Queries } from '../../database/connect'
import { site, sitePicture } from '../../database/schema'
import { PICTURES, typeOf } from '../attachments'
import { HttpProblem } from '../HttpProblem'
import { findSite } from '../sites/sites'

const ENDINGS: Record<string, string> = {
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'image/webp': 'webp',
  'image/gif': 'gif',
}

/**
 * Keeps a picture for variants to show.
 *
 * @returns its path on Vetch's own origin, with the name of the file as fragment
 * @throws HttpProblem with what is wrong with the file
 */
export async function addSitePicture(
  database: Queries,
  { siteId, personId }: { siteId: number; personId: number | null },
  { name, content }: { name: string; content: Buffer },
): Promise<string> {
  if (content.length > LARGEST_SITE_PICTURE)
    throw new HttpProblem(
      413,
      `A picture holds at most ${LARGEST_SITE_PICTURE / 1024 / 1024} MB: every visitor loads it.`,
    )
  const type = await typeOf(content)
  if (!PICTURES.has(type)) throw new HttpProblem(422, 'This file is no picture. Choose a PNG, JPEG, WebP or GIF.')
  const digest = createHash('sha256').update(content).digest('hex')
  await database
    .insert(sitePicture)
    .values({ siteId, digest, type, name, content, createdBy: personId })
    .onConflictDoNothing({ target: [sitePicture.siteId, sitePicture.digest] })
  const { key } = await findSite(database, siteId)
  return `/pictures/${key}/${digest}.${ENDINGS[type]}#${encodeURIComponent(name)}`
}

/** A picture of the site of a key, by the name of its file; null where there is none. */
export async function findSitePicture(
  database: Queries,
  key: string,
  file: string,
): Promise<{ type: string; content: Buffer } | null> {
  const [digest] = file.split('.')
  const [found] = await database
    .select({ type: sitePicture.type, content: sitePicture.content })
    .from(sitePicture)
    .innerJoin(site, eq(site.id, sitePicture.siteId))
    .where(and(eq(site.key, key), eq(sitePicture.digest, digest ?? '')))
  return found ?? null
}
