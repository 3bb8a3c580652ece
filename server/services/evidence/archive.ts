import { totalmem } from 'node:os'
import { LRUCache } from 'lru-cache'
import type { Pool } from 'pg'
import { ANSWERS, type Asked, type Questions, type Source } from './answers'
import { isDatabaseAway } from '../../database/isDatabaseAway'
import { HttpProblem } from '../HttpProblem'
import { readSiteVisits, type SiteVisits } from './siteVisits'
import { STATEMENTS, type Stated, type StatedQuestions } from './statements/statements'

/** Steps of all sites together that are held in memory; a step takes 200 bytes, and up to 470 where there are only views. */
const MOST_STEPS = 40_000_000
/** Of the machine's memory, for steps: the other processes and the database need theirs. */
const SHARE_OF_MEMORY = 0.4
const BYTES_A_STEP = 230
/** Sites of which it is remembered that they are too large. */
const MOST_REMEMBERED = 1000
/** What is deleted in the database, by its retention or because a visitor asked for it, is read anew by then. */
const OLDEST = 6 * 60 * 60 * 1000

/** How many steps reports can hold on this machine. */
function mostSteps(): number {
  return Math.min(MOST_STEPS, Math.floor((totalmem() * SHARE_OF_MEMORY) / BYTES_A_STEP))
}

/**
 * Answers questions about sites' visits, which it reads as far as they have come and keeps for the next question. Where
 * sites together have more steps than can be held, the one that was asked longest ago goes, and is read anew when asked.
 *
 * @param most - steps of all sites together that may be held
 */
export function createArchive(pool: Pool, most = mostSteps()) {
  const sites = new LRUCache<number, SiteVisits>({
    maxSize: most,
    sizeCalculation: ({ visits }) => visits.steps + 1,
    ttl: OLDEST,
  })
  /** Sites that were too large lately: reading them once more would hold up everybody else for nothing. */
  const tooLarge = new LRUCache<number, true>({ max: MOST_REMEMBERED, ttl: OLDEST })
  const tooMany = () =>
    new HttpProblem(
      422,
      `This site has more than ${most.toLocaleString('en-US')} steps of visits, which is more than reports can hold here. Keep events for fewer days, or run Vetch on a machine with more memory.`,
    )

  async function sourceOf(siteId: number, onPortion?: () => void): Promise<Source> {
    const known = sites.get(siteId) ?? null
    const checkSize = ({ visits }: SiteVisits) => {
      onPortion?.()
      if (visits.steps < most) return
      tooLarge.set(siteId, true)
      throw tooMany()
    }
    if (tooLarge.has(siteId)) throw tooMany()
    const site = await readSiteVisits(pool, siteId, known, checkSize).catch((error: unknown) => {
      // What breaks in the middle of a portion leaves a part of it behind, which would be added a second time.
      if (!isDatabaseAway(error)) sites.delete(siteId)
      throw error
    })
    // The cache measures what is new to it only, and a known site has grown.
    const ttl = site === known ? sites.getRemainingTTL(siteId) : OLDEST
    sites.delete(siteId)
    sites.set(siteId, site, { ttl })
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
