import { chiSquareUpperTail } from '../statistics/distributions'
import { ALLOCATION_ALARM, checkAllocation, logAllocationFactor, type AllocationCheck } from '../statistics/allocation'

/**
 * Sample ratio mismatch of a run whose weights move: each period is held against its own shares.
 *
 * @param periods - visitors of each arm with the shares that they were drawn by; at least one
 * @returns χ² and degrees of freedom summed over the periods; the always-valid p-value is the product of those of the
 *   periods' Bayes factors, each of which is a fair bet whatever came before
 * @see `checkAllocation`; Shafer (2021), Testing by betting, J. Royal Stat. Soc. A 184, for products of bets
 */
export function checkAllocationByPeriod(
  periods: readonly { visitors: readonly number[]; shares: readonly number[] }[],
): AllocationCheck {
  const checks = periods.map(({ visitors, shares }) => checkAllocation(visitors, shares))
  const sumOf = (counts: (check: AllocationCheck) => readonly number[]) =>
    periods[0]!.shares.map((_, arm) => checks.reduce((sum, check) => sum + counts(check)[arm]!, 0))
  const chiSquare = checks.reduce((sum, check) => sum + check.chiSquare, 0)
  const degreesOfFreedom = checks.reduce((sum, check) => sum + check.degreesOfFreedom, 0)
  const logFactor = periods.reduce((sum, { visitors, shares }) => sum + logAllocationFactor(visitors, shares), 0)
  const sequentialPValue = Math.min(1, Math.exp(-logFactor))
  return {
    observed: sumOf(({ observed }) => observed),
    expected: sumOf(({ expected }) => expected),
    chiSquare,
    degreesOfFreedom,
    pValue: degreesOfFreedom === 0 ? 1 : chiSquareUpperTail(chiSquare, degreesOfFreedom),
    sequentialPValue,
    alarm: sequentialPValue < ALLOCATION_ALARM,
  }
}
