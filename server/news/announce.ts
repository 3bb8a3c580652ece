import { sql } from 'drizzle-orm'
import type { News } from '../../shared/sites/news'
import type { Queries } from '../database/connect'

export const NEWS_CHANNEL = 'vetch_news'

/** Tells everybody who looks at a site, as soon as the transaction is over and only if it holds. */
export async function announce(tx: Queries, siteId: number, news: News): Promise<void> {
  await tx.execute(sql`SELECT pg_notify(${NEWS_CHANNEL}, ${JSON.stringify({ siteId, news })})`)
}
