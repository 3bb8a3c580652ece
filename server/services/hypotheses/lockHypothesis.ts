import { and, eq, isNull } from 'drizzle-orm'
import type { Queries } from '../../database/connect'
import { hypothesis } from '../../database/schema'
import { HttpProblem } from '../HttpProblem'

export const GONE = 'This hypothesis does not exist on this site. It may have been deleted.'

/** Who does it, and to which hypothesis. */
export interface Target {
  siteId: number
  hypothesisId: number
  personId: number | null
}
/** Holds a hypothesis until the transaction ends. */
export async function lockHypothesis(
  tx: Queries,
  { siteId, hypothesisId }: Target,
): Promise<typeof hypothesis.$inferSelect> {
  const [row] = await tx
    .select()
    .from(hypothesis)
    .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, hypothesisId), isNull(hypothesis.deletedAt)))
    .for('no key update')
  if (!row) throw new HttpProblem(404, GONE)
  return row
}
