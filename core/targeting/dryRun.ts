import { variantOf } from '../assignment/assignment'
import type { Activation } from './activation'
import { fittingWording } from '../sheet/wordings'
import { holds, type Group } from './condition'
import { trace, type Trace } from './trace'
import type { VisitorFacts } from './visitorFacts'
import { unitOf, whyNot, type Reason, type Terms } from './whyNot'

/** Something that visitors may get: with the weights of its variants, or none where it has no variants. */
export interface DryRunThing extends Terms {
  weights?: readonly number[]
  /** Of a personalization with several wordings, for whom each is. */
  wordings?: readonly (Group | null)[] | null
  /** Of a split that moves, the variant that the visitor was drawn into before: new weights are for others. */
  drawn?: number
}

export interface DryRunAnswer {
  /** Why the visitor does not get it; null for who does. */
  reason: Reason | null
  /** Position of the variant that the visitor gets now, or once what it waits for has come; of wordings the one that fits. */
  variant: number | null
  /** Of its audience. */
  trace: Trace | null
}

/**
 * What a visitor would get of several things on a page, with the reasons: what browsers decide, asked beforehand.
 *
 * @param things - in the order in which they are asked; audiences without saved ones in them
 * @param visitor - id that buckets are drawn by
 * @param facts - with the address of the page
 * @param isActive - whether what a thing waits for has come; beforehand, nothing has
 * @param person - what stands for the person, where one is known
 */
export function dryRun(
  things: readonly DryRunThing[],
  visitor: string,
  facts: VisitorFacts,
  isActive: (activation: Activation) => boolean = () => false,
  person?: string,
): DryRunAnswer[] {
  const variants: Record<string, number> = { ...facts.variants }
  return things.map((thing) => {
    const reason = whyNot(thing, visitor, {
      address: facts.address ?? '',
      fulfils: (audience) => holds(audience, facts),
      isActive,
      variants,
      person,
    })
    const takesPart = reason === null || reason === 'waits'
    const unit = unitOf(thing, visitor, person) ?? visitor
    const draw = () => (thing.weights ? variantOf(unit, { ...thing, weights: thing.weights }) : null)
    const variant = takesPart ? (thing.drawn ?? draw()) : null
    // Who waits has not been shown anything that others of its group would have to leave to it.
    if (reason === null && variant !== null) variants[thing.id] = variant
    const place =
      variant !== null && variant > 0 && thing.wordings
        ? 1 + fittingWording(thing.wordings, (audience) => holds(audience, facts))
        : variant
    return { reason, variant: place, trace: thing.audience ? trace(thing.audience, facts) : null }
  })
}
