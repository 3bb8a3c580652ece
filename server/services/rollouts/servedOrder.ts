import { eq } from 'drizzle-orm'
import type { SheetPageRule } from '../../../core/sheet/content'
import { inServedOrder } from '../../../core/sheet/servedOrder'
import { pageRulesInWords } from '../../../core/targeting/pageWords'
import type { ServedView } from '../../../shared/rollouts/replies'
import type { Database, Queries } from '../../database/connect'
import { site } from '../../database/schema'
import { recordChange } from '../changes'
import { HttpProblem } from '../HttpProblem'
import { listSheets } from '../experiments/sheet'
import { compileSiteFile } from '../sites/compileSiteFile'
import { liveRollouts, servedOrderOf } from './liveRollouts'

/** What a site serves, winners and personalizations, in the order in which browsers apply it. */
export async function listServed(database: Queries, siteId: number): Promise<ServedView[]> {
  const winners = (await liveRollouts(database, siteId)).map(({ row, from }): ServedView => ({
    id: row.id,
    kind: 'rollout',
    name: from.name,
    ...placeOf(from.pageRules),
  }))
  const personalizations = (await listSheets(database, siteId, ['running']))
    .filter(({ purpose }) => purpose === 'serve')
    .sort((a, b) => a.id - b.id)
    .map(({ id, name, pageRules }): ServedView => ({
      id,
      kind: 'personalization',
      name,
      ...placeOf(pageRules),
    }))
  return inServedOrder([...winners, ...personalizations], await servedOrderOf(database, siteId))
}

function placeOf(pageRules: readonly SheetPageRule[]): Pick<ServedView, 'pages' | 'rules'> {
  return { pages: pageRulesInWords(pageRules), rules: pageRules.map(({ id: _, ...rule }) => rule) }
}

/**
 * Puts what is served into another order.
 *
 * @param order - all that is served, by its ids
 * @throws HttpProblem 409 where something else is served by now
 */
export async function orderServed(
  database: Database,
  siteId: number,
  personId: number | null,
  order: readonly number[],
): Promise<ServedView[]> {
  return database.transaction(async (tx) => {
    await tx.select({ id: site.id }).from(site).where(eq(site.id, siteId)).for('no key update')
    const before = await listServed(tx, siteId)
    const wanted = new Set(order)
    if (wanted.size !== order.length || before.length !== order.length || !before.every(({ id }) => wanted.has(id)))
      throw new HttpProblem(409, 'Something else is served by now. Look at the list as it is, then order it again.')
    await tx
      .update(site)
      .set({ servedOrder: [...order] })
      .where(eq(site.id, siteId))
    await compileSiteFile(tx, siteId)
    const after = await listServed(tx, siteId)
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'site',
      subjectId: siteId,
      action: 'changed',
      words: `served in this order: ${after.map(({ name }) => name).join(', ')}`,
    })
    return after
  })
}
