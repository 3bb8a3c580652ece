import { LRUCache } from 'lru-cache'
import type { Pool } from 'pg'
import { ANSWERS, type Asked, type Questions, type Source } from './answers'
import { isDatabaseAway } from '../../database/isDatabaseAway'
import { readSiteVisits, type SiteVisits } from './siteVisits'
import { STATEMENTS, type Stated, type StatedQuestions } from './statements/statements'

/** Steps of all sites together that are held in memory; a step takes 200 bytes, and up to 470 where there are only views. */
const MOST_STEPS = 40_000_000
/** What is deleted in the database, by its retention or because a visitor asked for it, is read anew by then. */
const OLDEST = 6 * 60 * 60 * 1000

/** Answers questions about sites' visits, which it reads as far as they have come and keeps for the next question. */
export function createArchive(pool: Pool) {
  const sites = new LRUCache<number, SiteVisits>({
    maxSize: MOST_STEPS,
    sizeCalculation: ({ visits }) => visits.steps + 1,
    ttl: OLDEST,
  })

  async function sourceOf(siteId: number, onPortion?: () => void): Promise<Source> {
    const known = sites.get(siteId) ?? null
    const site = await readSiteVisits(pool, siteId, known, onPortion).catch((error: unknown) => {
      // What breaks in the middle of a portion leaves a part of it behind, which would be added a second time.
      if (!isDatabaseAway(error)) sites.delete(siteId)
      throw error
    })
    sites.set(siteId, site, { noUpdateTTL: site === known })
    return { pool, siteId, site }
  }

  return {
    async answer<Ask extends Asked>(
      siteId: number,
      ask: Ask,
      question: Questions[Ask]['question'],
      onPortion?: () => void,
    ): Promise<Questions[Ask]['answer']> {
      return ANSWERS[ask](await sourceOf(siteId, onPortion), question)
    },
    /** The statement over raw views and events that says the same. */
    async statement<Ask extends Stated>(
      siteId: number,
      ask: Ask,
      question: StatedQuestions[Ask],
      onPortion?: () => void,
    ): Promise<string> {
      return STATEMENTS[ask](await sourceOf(siteId, onPortion), question)
    },
  }
}
