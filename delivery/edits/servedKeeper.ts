import { matchesPage } from '../../core/targeting/pageRule'
import type { ServedThing } from '../../shared/delivery/preview'
import { createKeeper, type Keeper } from '../snippet/keepApplied'
import type { Applier } from './applier'

/** Applies what is served on this page, for what is shown on top of it; nothing for none. */
export function keepServed(applier: Applier, things: readonly ServedThing[]): Keeper {
  const keeper = createKeeper(applier)
  for (const { pages, edits } of things) if (matchesPage(pages, location.href)) keeper.apply(edits)
  keeper.keep()
  return keeper
}
