import type { Pool } from 'pg'
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'
import { networkOf } from '../../intake/hashNetwork'
import { HttpProblem } from '../HttpProblem'

const MINUTES = 10
/**
 * Failures within ten minutes that are answered: of one account from one source, of one account from anywhere, and from
 * one source for any account; and letters to one address. The second and the third slow down whoever guesses from many places or at many accounts.
 */
const LIMITS = { 'account-and-source': 8, account: 40, source: 100, device: 12, letter: 5 } as const

type Limit = keyof typeof LIMITS
const limiters = new WeakMap<Pool, Record<Limit, RateLimiterPostgres>>()

function limitersOf(pool: Pool): Record<Limit, RateLimiterPostgres> {
  let own = limiters.get(pool)
  if (!own) {
    const options = {
      storeClient: pool,
      tableName: 'rate_limit',
      tableCreated: true,
      duration: MINUTES * 60,
      clearExpiredByTimeout: false,
    }
    const limiter = (name: Limit) =>
      new RateLimiterPostgres({ ...options, keyPrefix: `sign-in-${name}`, points: LIMITS[name] })
    own = {
      'account-and-source': limiter('account-and-source'),
      account: limiter('account'),
      source: limiter('source'),
      device: limiter('device'),
      letter: limiter('letter'),
    }
    limiters.set(pool, own)
  }
  return own
}

export interface Attempt {
  email: string
  /** Address that it comes from. */
  source: string
  /** What tells the device apart, if the person has signed in on it before: strangers cannot use it up. */
  knownDevice: string | null
}

/** Counts an attempt before the password is looked at, so that attempts at the same time count too. */
export async function countAttempt(pool: Pool, attempt: Attempt): Promise<void> {
  await consume(pool, keysOf(attempt))
}

/** Counts a letter to an address, and a caller who asks for letters: nobody's post box is to be filled. */
export async function countLetter(pool: Pool, email: string, source: string): Promise<void> {
  await consume(pool, [
    ['letter', email.toLowerCase().slice(0, 200)],
    ['source', networkOf(source)],
  ])
}

async function consume(pool: Pool, keys: [Limit, string][]): Promise<void> {
  const own = limitersOf(pool)
  try {
    for (const [limit, key] of keys) await own[limit].consume(key)
  } catch (refusal) {
    if (!(refusal instanceof RateLimiterRes)) throw refusal
    const minutes = Math.ceil(refusal.msBeforeNext / 60_000)
    throw new HttpProblem(429, `Too many attempts. Try again in ${minutes} minute${minutes === 1 ? '' : 's'}.`)
  }
}

/** Takes back what an attempt that succeeded was counted as. */
export async function forgiveAttempt(pool: Pool, attempt: Attempt): Promise<void> {
  const own = limitersOf(pool)
  for (const [limit, key] of keysOf(attempt)) {
    if (limit === 'source') await own[limit].reward(key)
    else await own[limit].delete(key)
  }
}

function keysOf({ email, source: address, knownDevice }: Attempt): [Limit, string][] {
  const source = networkOf(address)
  const account = email.toLowerCase()
  if (knownDevice) return [['device', `${account} ${knownDevice}`.slice(0, 200)]]
  return [
    ['account-and-source', `${account} ${source}`.slice(0, 200)],
    ['source', source],
    ['account', account],
  ]
}
