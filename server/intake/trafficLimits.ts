import { LRUCache } from 'lru-cache'

/** How much is taken of one visitor and from one network before it is asked to wait. */
export interface TrafficLimitOptions {
  /** Events of one visitor: at once, and in the long run a second. */
  eventBurst?: number
  eventsASecond?: number
  /**
   * Whether another visitor who was never seen before may come from a network; see `newcomers.ts`. In memory, and as
   * generous as this, where nothing is said.
   */
  mayCome?: (network: string, now: number) => Promise<boolean>
  visitorBurst?: number
  /** What one network may cost: at once, and in the long run a second. A request costs 1, and so do 4 KB. */
  requestBurst?: number
  requestsASecond?: number
}

export interface TrafficLimits {
  /** Whether so many events of a visitor may be taken now; they are counted if so. */
  mayReport: (visitor: string, events: number, now: number) => boolean
  /** Whether another new visitor may come from a network now; one who is known always may. */
  mayBegin: (visitor: string, network: string, isKnown: () => Promise<boolean>, now: number) => Promise<boolean>
  /** Whether a network may send a request of so many bytes now; it is counted if so. Asked before anything is read. */
  maySend: (network: string, bytes: number, now: number) => boolean
  /** Counts what a request has cost beyond that, as bytes. */
  noteCost: (network: string, bytes: number, now: number) => void
}

interface Bucket {
  left: number
  at: number
}

const REMEMBERED = 200_000
const VISITORS_A_SECOND = 0.5
/** Bytes that cost as much as a request. */
const UNIT = 4096

/**
 * Forging costs: whoever makes up visitors or events runs out of them. What one visitor and one network may cost each
 * process counts for itself, in memory; networks are told apart by their hash of the day.
 */
export function createTrafficLimits({
  eventBurst = 2000,
  eventsASecond = 20,
  mayCome,
  visitorBurst = 30,
  requestBurst = 3000,
  requestsASecond = 200,
}: TrafficLimitOptions = {}): TrafficLimits {
  const visitors = new LRUCache<string, Bucket>({ max: REMEMBERED })
  const networks = new LRUCache<string, Bucket>({ max: REMEMBERED })
  const come =
    mayCome ??
    (async (network: string, now: number) => take(networks, network, 1, visitorBurst, VISITORS_A_SECOND, now))
  const known = new LRUCache<string, true>({ max: REMEMBERED })
  const senders = new LRUCache<string, Bucket>({ max: REMEMBERED })
  return {
    mayReport: (visitor, events, now) => take(visitors, visitor, events, eventBurst, eventsASecond, now),
    async mayBegin(visitor, network, isKnown, now) {
      if (known.get(visitor)) return true
      const mayBegin = (await isKnown()) || (await come(network, now))
      if (mayBegin) known.set(visitor, true)
      return mayBegin
    },
    maySend: (network, bytes, now) => take(senders, network, 1 + bytes / UNIT, requestBurst, requestsASecond, now),
    noteCost(network, bytes, now) {
      const bucket = senders.get(network) ?? { left: requestBurst, at: now }
      senders.set(network, { left: bucket.left - bytes / UNIT, at: bucket.at })
    },
  }
}

/** A bucket that fills again with time: what is taken at once is bounded, and so is what is taken in the long run. */
function take(
  buckets: LRUCache<string, Bucket>,
  key: string,
  count: number,
  burst: number,
  aSecond: number,
  now: number,
): boolean {
  const bucket = buckets.get(key) ?? { left: burst, at: now }
  const left = Math.min(burst, bucket.left + (Math.max(0, now - bucket.at) / 1000) * aSecond)
  const isEnough = left >= count
  buckets.set(key, { left: isEnough ? left - count : left, at: now })
  return isEnough
}
