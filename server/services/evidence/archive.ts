import { LRUCache } from 'lru-cache'
import type { Pool } from 'pg'
import { HttpProblem } from '../HttpProblem'
import { ANSWERS, type Asked, type Questions } from './answers'
import { readSiteVisits, type SiteVisits } from './siteVisits'
import { STATEMENTS, type Stated } from './statements'

/** Steps of all sites together that are held in memory; a step takes about a hundred bytes. */
const MOST_STEPS = 40_000_000
/** What is deleted in the database, by its retention or because a visitor asked for it, is read anew by then. */
const OLDEST = 6 * 60 * 60 * 1000

export type Wanted = 'answer' | 'statement'

/** Answers questions about sites' visits, which it reads as far as they have come and keeps for the next question. */
export function createArchive(pool: Pool) {
  const sites = new LRUCache<number, SiteVisits>({
    maxSize: MOST_STEPS,
    sizeCalculation: ({ visits }) => visits.steps + 1,
    ttl: OLDEST,
  })

  return async function answer<Ask extends Asked>(
    siteId: number,
    ask: Ask,
    question: Questions[Ask]['question'],
    wants: Wanted,
  ): Promise<Questions[Ask]['answer'] | string> {
    const known = sites.get(siteId) ?? null
    const site = await readSiteVisits(pool, siteId, known)
    sites.set(siteId, site, { noUpdateTTL: site === known })
    const source = { pool, siteId, site }
    if (wants === 'answer') return ANSWERS[ask](source, question)
    if (!(ask in STATEMENTS)) throw new HttpProblem(404, 'This report has no statement of its own.')
    return STATEMENTS[ask as Stated](source, question as never)
  }
}
