import { eq } from 'drizzle-orm'
import { learnFromPast, type Past, type PastLift } from '../../../core/hypotheses/pastLifts'
import { normalQuantile } from '../../../core/statistics/distributions'
import { DEFAULT_TERMS, type RankingTerms } from '../../../shared/hypotheses/hypothesis'
import type { Database, Queries } from '../../database/connect'
import { rankingTerms } from '../../database/schema'
import { recordChange } from '../changes'
import { PAST_LOOKS } from './queries'

/** By what a team ranks. */
export async function readTerms(database: Queries, siteId: number): Promise<RankingTerms> {
  const [row] = await database.select().from(rankingTerms).where(eq(rankingTerms.siteId, siteId))
  return { ...DEFAULT_TERMS, ...row?.terms }
}

export async function updateTerms(
  database: Database,
  { siteId, personId }: { siteId: number; personId: number | null },
  terms: RankingTerms,
): Promise<RankingTerms> {
  return database.transaction(async (tx) => {
    const before = await readTerms(tx, siteId)
    await tx
      .insert(rankingTerms)
      .values({ siteId, terms })
      .onConflictDoUpdate({ target: rankingTerms.siteId, set: { terms } })
    await recordChange(tx, {
      siteId,
      personId,
      subject: 'ranking',
      subjectId: siteId,
      action: 'changed',
      before,
      after: terms,
    })
    return terms
  })
}

interface PastLook {
  lift: number
  low: number
  high: number
  decisiveLow: number | null
  decisiveHigh: number | null
  alpha: number
  direction: string
}

/** What ended experiments of a site tell of the lift of a next one. */
export async function readPast(database: Queries, siteId: number): Promise<Past> {
  const { rows } = await database.execute<PastLook & Record<string, unknown>>(PAST_LOOKS(siteId))
  return learnFromPast(rows.map(pastLift))
}

function pastLift({ lift, low, high, decisiveLow, decisiveHigh, alpha, direction }: PastLook): PastLift {
  const sign = direction === 'down' ? -1 : 1
  // The interval of a single look, as it was computed: half of it is so many standard errors.
  const standardError = (high - low) / 2 / normalQuantile(1 - alpha / 2)
  const worst = direction === 'down' ? decisiveHigh : decisiveLow
  const isWinner = worst !== null && sign * worst > 0
  return {
    lift: sign * lift,
    standardError,
    ...(isWinner ? { threshold: sign * (lift - worst) } : {}),
  }
}
