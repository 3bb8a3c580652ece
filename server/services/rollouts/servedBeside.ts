import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import type { Edit } from '../../../core/edits/content'
import type { SheetPageRule } from '../../../core/sheet/content'
import { BUCKETS } from '../../../core/assignment/assignment'
import { inServedOrder } from '../../../core/sheet/servedOrder'
import type { ServedThing } from '../../../shared/delivery/preview'
import type { Queries } from '../../database/connect'
import { listSheets } from '../experiments/sheet'
import { liveRollouts, servedOrderOf } from './liveRollouts'

/** What fewer get is not how most visitors have the page. */
const MOST_VISITORS = BUCKETS / 2

/**
 * What most visitors of a site are served beside a sheet, whatever their audience: the pages of the site as they have
 * them, in the order in which browsers apply it.
 */
export async function servedBeside(database: Queries, siteId: number, experimentId: number): Promise<ServedThing[]> {
  const winners = (await liveRollouts(database, siteId)).filter(
    ({ row, from }) =>
      from.id !== experimentId && row.share >= MOST_VISITORS && (row.isForEverybody || from.audience === null),
  )
  const personalizations = (await listSheets(database, siteId, ['running'])).filter(
    ({ id, purpose, audience, variants, share, terms }) =>
      purpose === 'serve' &&
      id !== experimentId &&
      audience === null &&
      !variants[1]?.audience &&
      (share * (BUCKETS - variants[0]!.weight)) / BUCKETS >= MOST_VISITORS &&
      !terms.apartFrom?.includes(experimentId),
  )
  const things = [
    ...winners.map(({ row, from, variant }) => ({ id: row.id, ...thingOf(from.name, from.pageRules, variant.edits) })),
    ...personalizations
      .sort((a, b) => a.id - b.id)
      .map(({ id, name, pageRules, variants }) => ({ id, ...thingOf(name, pageRules, variants[1]!.edits) })),
  ]
  return inServedOrder(things, await servedOrderOf(database, siteId)).map(({ id: _, ...thing }) => thing)
}

function thingOf(name: string, pageRules: readonly SheetPageRule[], edits: readonly Edit[]): ServedThing {
  return {
    name,
    pages: pageRules.map(({ id: _, ...rule }) => rule),
    // What leads elsewhere, or runs code of its own, is not shown beside something else.
    edits: orderEdits(edits.filter(({ kind }) => kind !== 'redirect' && kind !== 'script')).map(deliveredEdit),
  }
}
