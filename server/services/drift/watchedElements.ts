import { and, asc, eq, inArray, isNull } from 'drizzle-orm'
import { isOfElement, type Edit } from '../../../core/edits/content'
import { orderEdits } from '../../../core/edits/edit'
import type { SheetPageRule } from '../../../core/sheet/content'
import type { PageRule } from '../../../core/targeting/pageRule'
import { DRIFT_PLACE, type WatchedExperiment } from '../../../shared/intake/drift'
import type { Queries } from '../../database/connect'
import { experiment, site } from '../../database/schema'
import { variantsOf } from '../experiments/variants'

const MOST_ELEMENTS = 100

/** The elements that browsers look for on the pages of what runs on the site of a key. */
export async function watchedOfKey(database: Queries, key: string): Promise<WatchedExperiment[]> {
  const [found] = await database.select({ id: site.id }).from(site).where(eq(site.key, key))
  return found ? watchedElements(database, found.id) : []
}

export async function watchedElements(database: Queries, siteId: number): Promise<WatchedExperiment[]> {
  const rows = await database
    .select()
    .from(experiment)
    .where(and(eq(experiment.siteId, siteId), inArray(experiment.state, ['running']), isNull(experiment.deletedAt)))
    .orderBy(asc(experiment.id))
  const variants = await variantsOf(
    database,
    siteId,
    rows.map(({ id }) => id),
  )
  // What waits for something to appear is not there before.
  return rows
    .filter(({ terms }) => terms.activation === null)
    .flatMap(({ id, salt, share, pageRules }) => {
      const own = variants.get(id) ?? []
      const elements = own.flatMap(({ edits }, variant) =>
        ofThePage(edits)
          .filter(isOfElement)
          .map(({ id: edit, selector, clues, page }) => ({
            edit,
            variant,
            selector,
            clues: clues ?? null,
            page: page ?? null,
          })),
      )
      if (elements.length === 0) return []
      const weights = own.map(({ weight }) => weight)
      const watched = { experiment: id, salt, share, weights, pages: pageRules.map(withoutId) }
      return [{ ...watched, elements: elements.slice(0, MOST_ELEMENTS) }]
    })
}

/** Edits of what the page itself has: those after one that brings elements of its own may be of these. */
function ofThePage(edits: readonly Edit[]): Edit[] {
  const own = orderEdits(edits).filter(({ isOff }) => !isOff)
  const bringing = own.findIndex(({ kind }) => kind === 'insert' || kind === 'html')
  return bringing < 0 ? own : own.slice(0, bringing + 1)
}

function withoutId({ id: _, ...rule }: SheetPageRule): PageRule {
  return rule
}

/** The script that looks for elements, with those of a site inlined. */
export function renderDrift(script: string, watched: readonly WatchedExperiment[]): string {
  return script.replace(DRIFT_PLACE, () => JSON.stringify(watched))
}
