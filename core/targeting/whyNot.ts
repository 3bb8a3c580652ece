import { bucketOf, isInTest, variantOf, type AssignmentPlan } from '../assignment/assignment'
import { isInRanges, type Range } from '../assignment/bucketSpace'
import type { Activation } from './activation'
import type { Group } from './condition'
import { matchesPage, type PageRule } from './pageRule'

/** A share of the visitors whom everything is kept from that started within its period. */
export type HoldoutShare = Pick<AssignmentPlan, 'salt' | 'share'>

/**
 * What an experiment has in a group of experiments that exclude each other: buckets of a space that they share, or its
 * place among those who take whom they can get, the first ones first.
 */
export type GroupPlace = { salt: string; ranges: readonly Range[] } | { members: readonly number[] }

/** Which visitors a test takes by buckets. */
export type TestShare = Pick<Terms, 'salt' | 'share' | 'group' | 'holdouts'>

/** What is asked before a visitor takes part in something. */
export interface Terms {
  id: number
  /** Buckets are drawn by the person, whom the page must have named; else by the visitor. */
  unit?: 'person'
  pages: readonly PageRule[]
  /** null for everybody */
  audience: Group | null
  group?: GroupPlace | null
  salt: string
  /** Of 10,000 buckets; of a group that shares out its buckets, those count. */
  share: number
  holdouts?: readonly HoldoutShare[]
  /** Tests whose visitors do not get it, whether they have seen the test yet or not. */
  apart?: readonly TestShare[]
  activation?: Activation | null
}

/** What is known at the moment of a decision. */
export interface Circumstances {
  address: string
  fulfils: (audience: Group) => boolean
  /** Whether it is not known yet, and will be soon, whether the visitor fulfils it; never, where left out. */
  waits?: (audience: Group) => boolean
  isActive: (activation: Activation) => boolean
  /** Positions of the variants that the visitor has had, by the numbers of experiments. */
  variants: Readonly<Record<string, number>>
  /** In which period of a split that moves the visitor was drawn, by the numbers of experiments. */
  periods?: Readonly<Record<string, number>>
  /** What stands for the person, where the page has named one; see `personId`. */
  person?: string
}

/** Why somebody does not take part; in the order in which it is asked. */
export type Reason = 'page' | 'audience' | 'person' | 'holdout' | 'test' | 'group' | 'share' | 'waits'

/** Keeps holdouts and groups independent of the share of an experiment with the same salt. */
const PLACE_SEED = 3

/**
 * Why a visitor does not take part in something on a page.
 *
 * @param terms - what is asked
 * @param visitor - id that buckets are drawn by
 * @returns the first reason, or null for somebody who takes part
 * @example whyNot({ ...terms, share: 0 }, 'visitor-1', circumstances) // 'share'
 */
export function whyNot(terms: Terms, visitor: string, at: Circumstances): Reason | null {
  const { pages, audience, activation } = terms
  if (!matchesPage(pages, at.address)) return 'page'
  if (audience && !at.fulfils(audience)) return 'audience'
  const unit = unitOf(terms, visitor, at.person)
  if (unit === null) return 'person'
  const reason = byBuckets(terms, unit, at.variants)
  if (reason) return reason
  return activation && !at.isActive(activation) ? 'waits' : null
}

/** Whom buckets are drawn by; null for a person whom nobody has named. */
export function unitOf({ unit }: Pick<Terms, 'unit'>, visitor: string, person: string | undefined): string | null {
  return unit === 'person' ? (person ?? null) : visitor
}

type Bucketed = TestShare & Pick<Terms, 'id' | 'apart'>

function byBuckets(terms: Bucketed, visitor: string, variants: Circumstances['variants']): Reason | null {
  const { holdouts, group, apart } = terms
  if (holdouts?.some((each) => isHeldOut(visitor, each))) return 'holdout'
  if (apart?.some((test) => byBuckets({ id: 0, ...test }, visitor, {}) === null)) return 'test'
  if (group && !hasPlace(terms.id, group, visitor, variants)) return 'group'
  return (group && 'ranges' in group) || isInTest(visitor, terms) ? null : 'share'
}

/**
 * The variant that a visitor gets by buckets alone: whatever page they are on, and whoever they are.
 *
 * @param weights - of the variants, the control first
 * @returns its position, or null for somebody outside of the share, of its part of a group, or in a holdout
 */
export function variantByBuckets(
  visitor: string,
  terms: Omit<Bucketed, 'id'> & { weights: readonly number[] },
): number | null {
  return byBuckets({ id: 0, ...terms }, visitor, {}) === null ? variantOf(visitor, terms) : null
}

/** Whether a holdout keeps a visitor out: the same ones for as long as it lasts. */
export function isHeldOut(visitor: string, { salt, share }: HoldoutShare): boolean {
  return bucketOf(visitor, salt, PLACE_SEED) < share
}

function hasPlace(id: number, group: GroupPlace, visitor: string, variants: Circumstances['variants']): boolean {
  if ('ranges' in group) return isInRanges(bucketOf(visitor, group.salt, PLACE_SEED), group.ranges)
  return !group.members.some((member) => member !== id && variants[member] !== undefined)
}
