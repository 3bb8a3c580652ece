import type { VariantPicture, VariantPictures } from '../../../shared/pictures/replies'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { createHash } from 'node:crypto'
import { and, asc, desc, eq, notInArray, or } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import type { DeliveredEdit } from '../../../core/edits/content'
import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import { redirectTarget } from '../../../core/edits/redirect'
import { matchesPage } from '../../../core/targeting/pageRule'
import type { ServedThing } from '../../../shared/delivery/preview'
import { DEVICES, type Device } from '../../../shared/pictures/variantPicture'
import type { Database, Queries } from '../../database/connect'
import { backgroundJob, variantPicture } from '../../database/schema'
import { requestPictures } from '../../jobs/backgroundJobs'
import type { PicturesJob } from '../../jobs/queue'
import { seenAddresses, type SeenAddress } from '../experiments/forecast'
import { findSheet, lockSheet, type Target } from '../experiments/sheet'
import { testedPages } from '../experiments/testedPages'
import { HttpProblem } from '../HttpProblem'
import { servedBeside } from '../rollouts/servedBeside'
import { findSite } from '../sites/sites'
import { browserProgram } from '../../browser/launch'

type Place = Pick<Target, 'siteId' | 'experimentId'>

/** A picture that a sheet asks for. */
export interface WantedPicture {
  variant: string
  path: string
  device: Device
  language: string
  /** Where it is taken: the page, or where the variant sends its visitors. */
  address: string
  edits: DeliveredEdit[]
  /** Of everything that the picture shows; another one is out of date. */
  digest: string
}

const ofExperiment = ({ siteId, experimentId }: Place) =>
  and(eq(variantPicture.siteId, siteId), eq(variantPicture.experimentId, experimentId))

/** The pictures that a sheet asks for on some pages, page by page and width by width, the control first. */
export function wantedPictures(
  { variants, allowsScripts }: Pick<ExperimentSheet, 'variants' | 'allowsScripts'>,
  pages: readonly string[],
  siteAddress: string,
  language: string,
  served: readonly ServedThing[],
): WantedPicture[] {
  const servedOn = (address: string) =>
    served.filter((each) => matchesPage(each.pages, address)).flatMap((each) => each.edits)
  return pages.flatMap((path) =>
    DEVICES.flatMap((device) =>
      variants.map(({ id, edits }) => {
        const allowed = orderEdits(edits.filter(({ kind }) => allowsScripts || kind !== 'script')).map(deliveredEdit)
        const page = new URL(path, siteAddress).href
        const redirect = allowed.find((edit) => edit.kind === 'redirect')
        const address = (redirect && redirectTarget(redirect.value, page)) ?? page
        const below = servedOn(address)
        const digest = createHash('sha256')
          // Without anything served as before, so that pictures that show it already are not taken anew.
          .update(JSON.stringify([path, device, language, allowed, ...(below.length > 0 ? [below] : [])]))
          .digest('hex')
        return {
          variant: id,
          path,
          device,
          language,
          digest,
          address,
          edits: [...below, ...allowed.filter(({ kind }) => kind !== 'redirect')],
        }
      }),
    ),
  )
}

/** What a sheet asks for at the moment, on the most visited of its pages. */
export async function picturesOfSheet(
  database: Database,
  { siteId, experimentId }: Place,
  language: string,
  seen: readonly SeenAddress[],
): Promise<{ sheet: ExperimentSheet; pages: string[]; wanted: WantedPicture[] }> {
  const sheet = await findSheet(database, siteId, experimentId)
  const { address } = await findSite(database, siteId)
  const pages = testedPages(
    sheet,
    seen.filter((each) => matchesPage(sheet.pageRules, each.address)),
  )
  const served = await servedBeside(database, siteId, experimentId)
  return { sheet, pages, wanted: wantedPictures(sheet, pages, address, language, served) }
}

/** The pictures of an experiment's variants, which of them show what the sheet said before, and the work on them. */
export async function listVariantPictures(database: Database, at: Place, now: Date): Promise<VariantPictures> {
  const rows = await database
    .select({
      id: variantPicture.id,
      variant: variantPicture.variantId,
      path: variantPicture.path,

      width: variantPicture.width,
      height: variantPicture.height,
      language: variantPicture.language,

      takenAt: variantPicture.takenAt,
      problems: variantPicture.problems,
      digest: variantPicture.digest,
    })
    .from(variantPicture)
    .where(ofExperiment(at))
    .orderBy(asc(variantPicture.id))
  const sheet = await findSheet(database, at.siteId, at.experimentId)
  const { address } = await findSite(database, at.siteId)
  const kept = keptPages(sheet, address, rows)
  const language = rows.at(-1)?.language ?? 'en'
  // Which pages are visited most is asked only where no picture tells: the list is read again and again.
  const { pages, wanted } =
    kept.length > 0
      ? {
          pages: kept,
          wanted: wantedPictures(
            sheet,
            kept,
            address,
            language,
            await servedBeside(database, at.siteId, at.experimentId),
          ),
        }
      : await picturesOfSheet(database, at, language, await seenAddresses(database, at.siteId, now))
  const current = new Map(wanted.map((each) => [keyOf(each.variant, each.path, each.device.width), each.digest]))
  const pictures = rows.flatMap(({ digest, takenAt, ...row }): VariantPicture[] => {
    const asked = current.get(keyOf(row.variant, row.path, row.width))
    if (asked === undefined) return []
    return [{ ...row, takenAt: takenAt.toISOString(), isStale: asked !== digest }]
  })
  return { canTake: browserProgram() !== null, pages, pictures, job: await latestJob(database, at) }
}

/** Pages that there are pictures of and that the sheet still runs on. */
function keptPages(
  { pageRules }: Pick<ExperimentSheet, 'pageRules'>,
  siteAddress: string,
  rows: readonly { path: string }[],
): string[] {
  return [...new Set(rows.map(({ path }) => path))].filter((path) => matchesPage(pageRules, siteAddress + path))
}

export function keyOf(variant: string, path: string, width: number): string {
  return `${variant} ${width} ${path}`
}

async function latestJob(database: Queries, { siteId, experimentId }: Place): Promise<VariantPictures['job']> {
  const [job] = await database
    .select({
      id: backgroundJob.id,
      state: backgroundJob.state,

      progress: backgroundJob.progress,
      problem: backgroundJob.problem,
    })
    .from(backgroundJob)
    .where(
      and(
        eq(backgroundJob.siteId, siteId),
        eq(backgroundJob.experimentId, experimentId),
        eq(backgroundJob.kind, 'pictures'),
      ),
    )
    .orderBy(desc(backgroundJob.id))
    .limit(1)
  return job ?? null
}

/**
 * Asks for pictures of all variants.
 *
 * @param isAnew - also of those whose pictures show what the sheet says
 * @throws HttpProblem 503 where there is no browser; 422 for a sheet without a page
 */
export async function takePictures(
  database: Database,
  queue: PgBoss,
  at: Place,
  { language, isAnew }: { language: string; isAnew: boolean },
  now: Date,
): Promise<VariantPictures> {
  if (!browserProgram()) throw new HttpProblem(503, NO_BROWSER)
  const { pages } = await picturesOfSheet(database, at, language, await seenAddresses(database, at.siteId, now))
  if (pages.length === 0) throw new HttpProblem(422, 'Name the page that the experiment runs on, then take pictures.')
  await database.transaction(async (tx) => {
    if (isAnew) await tx.update(variantPicture).set({ digest: '' }).where(ofExperiment(at))
    await requestOnce(tx, queue, at, language, { ofDraft: false })
  })
  return listVariantPictures(database, at, now)
}

const NO_BROWSER =
  'Pictures need Chromium where Vetch runs. On Debian: apt-get install chromium-headless-shell, then try again.'

/**
 * After a change of a draft: takes anew what its pictures show no more. The first are taken once nothing is missing, so
 * that preflight knows what looks wrong in each width.
 */
export async function renewPictures(
  database: Database,
  queue: () => Promise<PgBoss>,
  sheet: ExperimentSheet,
): Promise<void> {
  const at = { siteId: sheet.siteId, experimentId: sheet.id }
  if (!browserProgram()) return
  const rows = await database
    .select({ path: variantPicture.path, language: variantPicture.language, digest: variantPicture.digest })
    .from(variantPicture)
    .where(ofExperiment(at))
    .orderBy(asc(variantPicture.id))
  if (sheet.state !== 'draft' || (rows.length === 0 && !canBePictured(sheet))) return
  const { address } = await findSite(database, at.siteId)
  const pages = keptPages(sheet, address, rows)
  const language = rows.at(-1)?.language ?? 'en'
  const digests = new Set(rows.map(({ digest }) => digest))
  const served = await servedBeside(database, at.siteId, at.experimentId)
  const isCurrent =
    rows.length > 0 &&
    pages.length === new Set(rows.map(({ path }) => path)).size &&
    wantedPictures(sheet, pages, address, language, served).every(({ digest }) => digests.has(digest))
  if (isCurrent) return
  const sender = await queue()
  await database.transaction((tx) => requestOnce(tx, sender, at, language, { ofDraft: true }))
}

/** Whether a draft lacks nothing and changes a page that it can be seen on. */
function canBePictured({ preflight, variants }: ExperimentSheet): boolean {
  const isChanged = variants.some(({ edits }) => edits.some(({ isOff, kind }) => !isOff && kind !== 'redirect'))
  return isChanged && !preflight.some(({ isStop }) => isStop)
}

/** Seconds: more changes may follow. */
const RENEWED_AFTER = 10

/** Work that waits looks at the sheet when it begins, and work that runs looks again: one is enough. */
async function requestOnce(
  tx: Queries,
  queue: PgBoss,
  { siteId, experimentId }: Place,
  language: string,
  { ofDraft }: Pick<PicturesJob, 'ofDraft'>,
): Promise<void> {
  const { name } = await lockSheet(tx, { siteId, experimentId })
  const job = await latestJob(tx, { siteId, experimentId })
  if (job && (job.state === 'waiting' || job.state === 'running')) return
  const after = ofDraft ? RENEWED_AFTER : 0
  await requestPictures(tx, queue, { siteId, experimentId, language, ofDraft }, `Pictures of “${name}”`, after)
}

/** The picture itself. */
export async function readVariantPicture(
  database: Queries,
  { siteId, experimentId }: Place,
  pictureId: number,
): Promise<{ name: string; type: string; content: Buffer }> {
  const [found] = await database
    .select({ content: variantPicture.content, path: variantPicture.path, width: variantPicture.width })
    .from(variantPicture)
    .where(and(ofExperiment({ siteId, experimentId }), eq(variantPicture.id, pictureId)))
  if (!found) throw new HttpProblem(404, 'This picture was taken anew since. Look again.')
  const { content, path, width } = found
  return { name: `${path.replace(/\W+/g, '-')}-${width}.jpg`, type: 'image/jpeg', content }
}

/** What is kept of pictures, by what they show. */
export async function keptDigests(database: Queries, at: Place): Promise<Map<string, string>> {
  const rows = await database
    .select({
      variant: variantPicture.variantId,
      path: variantPicture.path,

      width: variantPicture.width,
      digest: variantPicture.digest,
    })
    .from(variantPicture)
    .where(ofExperiment(at))
  return new Map(rows.map(({ variant, path, width, digest }) => [keyOf(variant, path, width), digest]))
}

/** Keeps a picture in the place of the one before. */
export async function keepVariantPicture(
  database: Database,
  { siteId, experimentId }: Place,
  { variant, path, device, language, digest }: WantedPicture,
  taken: { content: Buffer; height: number; problems: VariantPicture['problems'] },
): Promise<void> {
  await database.transaction(async (tx) => {
    await tx
      .delete(variantPicture)
      .where(
        and(
          ofExperiment({ siteId, experimentId }),
          eq(variantPicture.variantId, variant),
          eq(variantPicture.path, path),
          eq(variantPicture.width, device.width),
        ),
      )
    await tx
      .insert(variantPicture)
      .values({ siteId, experimentId, variantId: variant, path, width: device.width, language, digest, ...taken })
  })
}

/** Forgets pictures of variants and pages that the sheet has no more. */
export async function dropUnwanted(
  database: Queries,
  at: Place,
  wanted: { variants: readonly string[]; pages: readonly string[] },
): Promise<void> {
  await database
    .delete(variantPicture)
    .where(
      and(
        ofExperiment(at),
        or(
          notInArray(variantPicture.variantId, [...wanted.variants]),
          wanted.pages.length > 0 ? notInArray(variantPicture.path, [...wanted.pages]) : undefined,
        ),
      ),
    )
}

/** What looks wrong on the pictures that show what the sheet says now. */
export async function problemsOfPictures(
  database: Queries,
  sheet: ExperimentSheet,
  at: Place,
  pages: readonly string[],
  siteAddress: string,
): Promise<Pick<VariantPicture, 'variant' | 'path' | 'width' | 'problems'>[]> {
  const rows = await database
    .select({
      variant: variantPicture.variantId,
      path: variantPicture.path,
      width: variantPicture.width,

      problems: variantPicture.problems,
      digest: variantPicture.digest,
      language: variantPicture.language,
    })
    .from(variantPicture)
    .where(ofExperiment(at))
    .orderBy(asc(variantPicture.id))
  const served = await servedBeside(database, at.siteId, at.experimentId)
  const current = new Set(
    [...new Set(rows.map(({ language }) => language))].flatMap((language) =>
      wantedPictures(sheet, pages, siteAddress, language, served).map(({ digest }) => digest),
    ),
  )
  return rows.filter(({ problems, digest }) => problems.length > 0 && current.has(digest))
}
