import type { PagePicture } from '../../../shared/pictures/pageOperations'
import { and, desc, eq } from 'drizzle-orm'
import type { InferType } from 'yup'
import type { ElementPlace, pagePictureSchema } from '../../../shared/pictures/pagePicture'
import type { Queries } from '../../database/connect'
import { pagePicture, person } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { siteReach } from '../sites/reach'
import { findSite } from '../sites/sites'
import { photographWhole } from './photographPage'

const MOST_LISTED = 50
const GONE = 'This picture does not exist any more.'

const isThis = (siteId: number, pictureId: number) => and(eq(pagePicture.siteId, siteId), eq(pagePicture.id, pictureId))

/** Pictures of a page in a width, the latest first. */
export async function listPagePictures(
  database: Queries,
  siteId: number,
  { path, width }: InferType<typeof pagePictureSchema>,
): Promise<PagePicture[]> {
  const rows = await database
    .select({
      id: pagePicture.id,
      path: pagePicture.path,
      width: pagePicture.width,
      height: pagePicture.height,

      takenAt: pagePicture.takenAt,
      person: person.name,
    })
    .from(pagePicture)
    .leftJoin(person, eq(person.id, pagePicture.createdBy))
    .where(and(eq(pagePicture.siteId, siteId), eq(pagePicture.path, path), eq(pagePicture.width, width)))
    .orderBy(desc(pagePicture.id))
    .limit(MOST_LISTED)
  return rows.map((row) => ({ ...row, takenAt: row.takenAt.toISOString() }))
}

/**
 * Takes a picture of a page as it is now, and keeps it with where its elements stand.
 *
 * @param listPlaces - the script `delivery/places`
 * @throws HttpProblem with why none was taken
 */
export async function keepPagePicture(
  database: Queries,
  { siteId, personId }: { siteId: number; personId: number | null },
  { path, width }: InferType<typeof pagePictureSchema>,
  { listPlaces, trustedOrigins }: { listPlaces: string; trustedOrigins: readonly string[] },
): Promise<PagePicture> {
  const { address } = await findSite(database, siteId)
  const page = new URL(path, address)
  if (page.origin !== new URL(address).origin) throw new HttpProblem(422, 'This page is not on the site.')
  const reach = await siteReach(database, siteId, trustedOrigins)
  const taken = await photographWhole(page.href, width, listPlaces, reach)
  const [made] = await database
    .insert(pagePicture)
    .values({ ...taken, siteId, path, width, createdBy: personId })
    .returning({ id: pagePicture.id })
  const listed = await listPagePictures(database, siteId, { path, width })
  return listed.find(({ id }) => id === made!.id)!
}

/** The picture itself. */
export async function readPagePicture(
  database: Queries,
  siteId: number,
  pictureId: number,
): Promise<{ name: string; type: string; content: Buffer }> {
  const [found] = await database
    .select({ content: pagePicture.content, path: pagePicture.path })
    .from(pagePicture)
    .where(isThis(siteId, pictureId))
  if (!found) throw new HttpProblem(404, GONE)
  return { name: `${found.path.replace(/\W+/g, '-')}.jpg`, type: 'image/jpeg', content: found.content }
}

/** Where the elements of a picture stand. */
export async function readPlaces(database: Queries, siteId: number, pictureId: number): Promise<ElementPlace[]> {
  const [found] = await database
    .select({ places: pagePicture.places })
    .from(pagePicture)
    .where(isThis(siteId, pictureId))
  if (!found) throw new HttpProblem(404, GONE)
  return found.places
}

export async function deletePagePicture(database: Queries, siteId: number, pictureId: number): Promise<void> {
  const gone = await database.delete(pagePicture).where(isThis(siteId, pictureId)).returning({ id: pagePicture.id })
  if (gone.length === 0) throw new HttpProblem(404, GONE)
}
