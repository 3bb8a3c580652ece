import { layoutProblems } from '../../core/layout/layoutProblems'
import type { MeasuredPage } from '../../core/layout/measuredPage'
import type { Database } from '../database/connect'
import { seenAddresses, type SeenAddress } from '../services/experiments/forecast'
import { HttpProblem } from '../services/HttpProblem'
import { photographVariant, type VariantPhotograph } from '../services/pictures/photographPage'
import { siteReach } from '../services/sites/reach'
import { findSitePicture } from '../services/pictures/sitePictures'
import {
  dropUnwanted,
  keepVariantPicture,
  keptDigests,
  keyOf,
  picturesOfSheet,
  type WantedPicture,
} from '../services/pictures/variantPictures'
import { noteEnd, noteProgress } from './backgroundJobs'
import type { PicturesJob } from './queue'

/** What the worker takes pictures with. */
export interface PictureTools {
  trustedOrigins: readonly string[]
  /** The script `delivery/layout`. */
  layoutScript: string
}

/** The layout of the page as it is, which every variant of one page, width and language is compared with. */
interface ControlLayout {
  key: string
  measured: MeasuredPage
}

/**
 * Takes the pictures that an experiment lacks or that are out of date, page by page and width by width. The sheet is
 * read anew before each of them: what changes meanwhile is taken too. Ends early once the job is canceled.
 */
export async function takeVariantPictures(database: Database, job: PicturesJob, tools: PictureTools): Promise<void> {
  try {
    let control: ControlLayout | null = null
    const seen = await seenAddresses(database, job.siteId, new Date())
    for (let done = 0; ; done++) {
      const { sheet, left, controls } = await missing(database, job, seen)
      const [next] = job.ofDraft && sheet.state !== 'draft' ? [] : left
      if (!(await noteProgress(database, job, next ? done / (done + left.length) : 1))) return
      if (!next) return await noteEnd(database, job, 'done')
      control = await takeNext(database, job, tools, next, controls, control)
    }
  } catch (error) {
    if (!(error instanceof HttpProblem)) throw error
    // Another try would come to the same.
    await noteEnd(database, job, 'failed', error.message)
  }
}

/** The wanted pictures that are not there as the sheet says; what it has no more is forgotten. */
async function missing(database: Database, job: PicturesJob, seen: readonly SeenAddress[]) {
  const { sheet, pages, wanted } = await picturesOfSheet(database, job, job.language, seen)
  await dropUnwanted(database, job, { variants: sheet.variants.map(({ id }) => id), pages })
  const kept = await keptDigests(database, job)
  return {
    sheet,
    left: wanted.filter(({ variant, path, device, digest }) => kept.get(keyOf(variant, path, device.width)) !== digest),
    controls: wanted.filter(({ variant }) => variant === sheet.variants[0]!.id),
  }
}

async function takeNext(
  database: Database,
  job: PicturesJob,
  { trustedOrigins, layoutScript }: PictureTools,
  next: WantedPicture,
  controls: readonly WantedPicture[],
  before: ControlLayout | null,
): Promise<ControlLayout> {
  const resources = {
    reach: await siteReach(database, job.siteId, trustedOrigins),
    layoutScript,
    ownResource: async (path: string) => {
      const [, key, file] = /^\/pictures\/([\w-]+)\/([\w.]+)$/.exec(path) ?? []
      return key && file ? findSitePicture(database, key, file) : null
    },
  }
  const photograph = ({ address, edits }: WantedPicture) => photographVariant(address, next, edits, resources)
  const key = `${next.path} ${next.device.width} ${next.language}`
  const own = controls.find(({ path, device }) => path === next.path && device === next.device)!
  const taken = await photograph(next)
  if (next === own) {
    await keepVariantPicture(database, job, next, { ...pictureOf(taken), problems: [] })
    return { key, measured: taken.measured }
  }
  const control = before?.key === key ? before : { key, measured: (await photograph(own)).measured }
  // A variant that sends its visitors elsewhere has another page: all that is wrong there counts.
  const problems = layoutProblems(taken.measured, next.address === own.address ? control.measured : null)
  await keepVariantPicture(database, job, next, { ...pictureOf(taken), problems })
  return control
}

function pictureOf({ content, height }: VariantPhotograph): Pick<VariantPhotograph, 'content' | 'height'> {
  return { content, height }
}
