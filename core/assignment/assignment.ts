import { murmurHash3OfBytes, utf8 } from './murmurHash3'

/** Number of buckets that shares and weights are counted in: one bucket is 0.01 %. */
export const BUCKETS = 10_000

/** Seeds that keep the two questions independent of each other. */
const IN_TEST_SEED = 1
const VARIANT_SEED = 2

/** What assignment needs to know of an experiment. */
export interface AssignmentPlan {
  /** Text drawn at random once an experiment; keeps experiments independent. */
  salt: string
  /** Buckets of the eligible visitors that take part, 0 to 10,000. */
  share: number
  /** Relative weight of each variant, the control first; at least one above zero. */
  weights: readonly number[]
}

/**
 * Bucket of a visitor for one question of one experiment.
 *
 * @param visitorId - the visitor's id
 * @param salt - the experiment's salt
 * @param seed - which question is asked (any unsigned 32-bit integer)
 * @returns integer from 0 to 9,999, uniform over visitors
 */
export function bucketOf(visitorId: string, salt: string, seed: number): number {
  return bucketOfBytes(utf8(`${salt}.${visitorId}`), seed)
}

function bucketOfBytes(bytes: Uint8Array, seed: number): number {
  return Math.floor((murmurHash3OfBytes(bytes, seed) / 0x1_0000_0000) * BUCKETS)
}

/**
 * Whether a visitor takes part. Raising the share only moves people from outside to inside.
 *
 * @returns true when the visitor's bucket lies below the share
 */
export function isInTest(visitorId: string, plan: Pick<AssignmentPlan, 'salt' | 'share'>): boolean {
  return bucketOf(visitorId, plan.salt, IN_TEST_SEED) < plan.share
}

/**
 * Index of the variant a visitor belongs to, whether or not they take part.
 *
 * @returns index into `plan.weights`
 * @throws RangeError when no weight is above zero
 */
export function variantOf(visitorId: string, plan: AssignmentPlan): number {
  return variantAt(bucketOf(visitorId, plan.salt, VARIANT_SEED), plan.weights)
}

/**
 * Index of the variant that owns a bucket, when the buckets are laid out in order of the weights.
 *
 * @param bucket - integer from 0 to 9,999
 * @param weights - relative weights, none negative, at least one above zero
 * @throws RangeError when none is
 */
export function variantAt(bucket: number, weights: readonly number[]): number {
  let total = 0
  for (const weight of weights) total += weight
  // Without words: they would come with the snippet to every visitor.
  if (!(total > 0)) throw new RangeError()
  let reached = 0
  for (let index = 0; index < weights.length; index++) {
    reached += weights[index]!
    if (bucket < (reached / total) * BUCKETS) return index
  }
  return weights.length - 1
}

/**
 * The variant a visitor gets, or null for a visitor who is not in the test.
 *
 * @example assign('visitor-1', { salt: 'a1', share: 10_000, weights: [1, 1] }) // 0 or 1, always the same
 */
export function assign(visitorId: string, plan: AssignmentPlan): number | null {
  const bytes = utf8(`${plan.salt}.${visitorId}`)
  return plan.share >= BUCKETS || bucketOfBytes(bytes, IN_TEST_SEED) < plan.share
    ? variantAt(bucketOfBytes(bytes, VARIANT_SEED), plan.weights)
    : null
}
