import { and, eq, isNull, lt, or, sql } from 'drizzle-orm'
import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import { isBuiltIn, standingOverall } from '../../../core/edits/standing'
import type { SheetVariant } from '../../../core/sheet/content'
import { matchesPage } from '../../../core/targeting/pageRule'
import { DAY } from '../../../core/time/units'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { DEVICES } from '../../../shared/pictures/variantPicture'
import type { HomeCheckView, HomeLook } from '../../../shared/rollouts/replies'
import type { Database, Queries } from '../../database/connect'
import { experiment, homeCheck, rollout, site } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'
import { seenAddresses } from '../experiments/forecast'
import { findSheet } from '../experiments/sheet'
import { testedPages } from '../experiments/testedPages'
import { lookAtStanding } from '../pictures/photographPage'
import { findSitePicture } from '../pictures/sitePictures'
import { siteReach } from '../sites/reach'
import { findSite } from '../sites/sites'

/** What a look is taken with. */
export interface HomeTools {
  trustedOrigins: readonly string[]
  /** The script `delivery/layout`. */
  layoutScript: string
}

type Place = { siteId: number; experimentId: number }

/** What is served differs by the width of the window; a tablet has either of these. */
const LOOKED_AS = DEVICES.filter(({ name }) => name !== 'Tablet')
const LANGUAGE = 'en'

/** The latest look at whether the site itself has what is served by now. */
export async function readHomeCheck(database: Queries, { siteId, experimentId }: Place): Promise<HomeCheckView> {
  const [row] = await database
    .select()
    .from(homeCheck)
    .where(and(eq(homeCheck.siteId, siteId), eq(homeCheck.experimentId, experimentId)))
  if (!row) return { look: null, isBuiltIn: false, checkedAt: null }
  return { look: row.look, isBuiltIn: hasAll(row.look), checkedAt: row.checkedAt.toISOString() }
}

/** Whether a look has found everything built in that can be seen. */
export function hasAll({ variants }: HomeLook): boolean {
  return isBuiltIn(variants.flatMap(({ edits }) => edits.map(({ standing }) => standing)))
}

/**
 * Looks at the pages as the site itself has them, and keeps what was found: whether they show by now what is served.
 *
 * @throws HttpProblem 409 for what is not served; 422 where no page can be looked at; 503 where there is no browser
 */
export async function lookAtHome(
  database: Database,
  { siteId, experimentId }: Place,
  tools: HomeTools,
  now: Date,
): Promise<HomeCheckView> {
  const sheet = await findSheet(database, siteId, experimentId)
  const served = await servedVariants(database, sheet)
  if (served.length === 0) throw new HttpProblem(409, 'Nothing of this is served, so there is nothing to look for.')
  const { address } = await findSite(database, siteId)
  const seen = await seenAddresses(database, siteId, now)
  const pages = testedPages(
    sheet,
    seen.filter((each) => matchesPage(sheet.pageRules, each.address)),
  )
  if (pages.length === 0) throw new HttpProblem(422, 'No page is known that could be looked at.')
  const resources = {
    layoutScript: tools.layoutScript,
    reach: await siteReach(database, siteId, tools.trustedOrigins),
    ownResource: async (path: string) => {
      const [, key, file] = /^\/pictures\/([\w-]+)\/([\w.]+)$/.exec(path) ?? []
      return key && file ? findSitePicture(database, key, file) : null
    },
  }
  const variants: HomeLook['variants'] = []
  let isSame = true
  for (const { id, edits } of served) {
    const ordered = orderEdits(edits)
    const looks = await Promise.all(
      pages.flatMap((path) =>
        LOOKED_AS.map((device) =>
          lookAtStanding(
            new URL(path, address).href,
            { device, language: LANGUAGE },
            ordered.map(deliveredEdit),
            resources,
          ),
        ),
      ),
    )
    isSame &&= looks.every((look) => look.isSame)
    variants.push({
      variant: id,
      edits: ordered.map((edit, index) => ({
        edit: edit.id,
        standing: standingOverall(looks.map(({ standings }) => standings[index]!)),
      })),
    })
  }
  const look = { variants, pages, isSame }
  await database
    .insert(homeCheck)
    .values({ siteId, experimentId, look, checkedAt: now })
    .onConflictDoUpdate({
      target: homeCheck.experimentId,
      set: { look, checkedAt: now },
      setWhere: eq(homeCheck.siteId, siteId),
    })
  return readHomeCheck(database, { siteId, experimentId })
}

/** What visitors get of a sheet beside the original: the wordings of a personalization, or what was rolled out. */
async function servedVariants(database: Queries, sheet: ExperimentSheet): Promise<SheetVariant[]> {
  if (sheet.purpose === 'serve')
    return sheet.state === 'running' || sheet.state === 'paused' ? sheet.variants.slice(1) : []
  const [row] = await database
    .select({ variantId: rollout.variantId })
    .from(rollout)
    .where(and(eq(rollout.siteId, sheet.siteId), eq(rollout.experimentId, sheet.id), eq(rollout.isOn, true)))
  return sheet.variants.filter(({ id }) => id === row?.variantId)
}

/** What has been served for as long as its site has set, and was not looked at for a day. */
export async function dueForHomeCheck(database: Queries, now: Date): Promise<Place[]> {
  const since = sql<Date>`CASE WHEN ${experiment.purpose} = 'serve' THEN ${experiment.startedAt} ELSE ${rollout.createdAt} END`
  return database
    .select({ siteId: experiment.siteId, experimentId: experiment.id })
    .from(experiment)
    .innerJoin(site, eq(site.id, experiment.siteId))
    .leftJoin(
      rollout,
      and(eq(rollout.siteId, experiment.siteId), eq(rollout.experimentId, experiment.id), eq(rollout.isOn, true)),
    )
    .leftJoin(homeCheck, and(eq(homeCheck.siteId, experiment.siteId), eq(homeCheck.experimentId, experiment.id)))
    .where(
      and(
        isNull(experiment.deletedAt),
        or(and(eq(experiment.purpose, 'serve'), eq(experiment.state, 'running')), sql`${rollout.id} IS NOT NULL`),
        sql`${since} <= ${now.toISOString()}::timestamptz - make_interval(days => ${site.servedDays})`,
        or(isNull(homeCheck.checkedAt), lt(homeCheck.checkedAt, new Date(now.getTime() - DAY))),
      ),
    )
}

/** By sheet, whether the site was found to have all of what is served. */
export async function builtInAtHome(database: Queries, siteId: number): Promise<ReadonlySet<number>> {
  const rows = await database
    .select({ id: homeCheck.experimentId, look: homeCheck.look })
    .from(homeCheck)
    .where(eq(homeCheck.siteId, siteId))
  return new Set(rows.filter(({ look }) => hasAll(look)).map(({ id }) => id))
}
