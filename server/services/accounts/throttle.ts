import type { Pool } from 'pg'
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'
import { HttpProblem } from '../HttpProblem'

const MINUTES = 10
const limits = new WeakMap<Pool, { byAccount: RateLimiterPostgres; byAddress: RateLimiterPostgres }>()

/** Counts a failed sign-in and refuses once there are too many for the account or from the address. */
export function signInThrottle(pool: Pool) {
  let limiters = limits.get(pool)
  if (!limiters) {
    const options = {
      storeClient: pool,
      tableName: 'rate_limit',
      tableCreated: true,
      duration: MINUTES * 60,
      clearExpiredByTimeout: false,
    }
    limiters = {
      byAccount: new RateLimiterPostgres({ ...options, keyPrefix: 'sign-in-account', points: 8 }),
      byAddress: new RateLimiterPostgres({ ...options, keyPrefix: 'sign-in-address', points: 40 }),
    }
    limits.set(pool, limiters)
  }
  const { byAccount, byAddress } = limiters
  return {
    /** Counts the attempt before the password is looked at, so that attempts at the same time count too. */
    async attempt(email: string, address: string): Promise<void> {
      try {
        await byAccount.consume(email.toLowerCase())
        await byAddress.consume(address)
      } catch (refusal) {
        if (!(refusal instanceof RateLimiterRes)) throw refusal
        const minutes = Math.ceil(refusal.msBeforeNext / 60_000)
        throw new HttpProblem(429, `Too many attempts. Try again in ${minutes} minute${minutes === 1 ? '' : 's'}.`)
      }
    },
    async succeeded(email: string, address: string): Promise<void> {
      await byAccount.delete(email.toLowerCase())
      await byAddress.reward(address)
    },
  }
}
