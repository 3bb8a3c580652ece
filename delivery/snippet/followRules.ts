import type { SiteFile } from '../../shared/delivery/siteFile'
import type { Applier } from '../edits/applier'
import { decide, type Decision } from './decide'
import { circumstancesNow } from './facts'
import { createKeeper } from './keepApplied'
import { safely } from './safely'

export interface FollowedRules {
  /** Shows what the visitor gets by what is known now and did not get before in this view, and takes back what left. */
  show: () => Decision[]
  takeBack: () => void
}

/**
 * Decides again and again within one page view, as more becomes known of the visitor and the page.
 *
 * @param showForGood - applies decisions that stay for the view, and says which of them could be
 */
export function followRules(
  siteFile: SiteFile,
  base: string,
  visitor: string,
  applier: Applier,
  showForGood: (decisions: readonly Decision[]) => Decision[],
): FollowedRules {
  const seen = new Set<number>()
  /** What leaves once its conditions no longer hold, as long as it is shown. */
  const leaving = new Map<number, () => void>()
  const leavers = siteFile.entries.flatMap((each) => (each.kind === 'experiment' && each.leaves ? [each.id] : []))

  function showForNow({ experiment, edits }: Decision): boolean {
    const keeper = createKeeper(applier)
    const isShown = safely(() => (keeper.apply(edits), true)) === true
    keeper.keep()
    leaving.set(experiment, keeper.takeBack)
    return isShown
  }

  function show(): Decision[] {
    const decided = decide(siteFile, visitor, location.href, circumstancesNow(siteFile, base))
    for (const [experiment, takeBack] of leaving)
      if (!decided.some((each) => each.experiment === experiment)) {
        safely(takeBack)
        leaving.delete(experiment)
      }
    const isLeaver = ({ experiment }: Decision) => leavers.includes(experiment)
    const shown = [
      ...showForGood(decided.filter((each) => !isLeaver(each) && !seen.has(each.experiment))),
      ...decided.filter((each) => isLeaver(each) && !leaving.has(each.experiment) && showForNow(each)),
    ]
    const isNew = shown.filter(({ experiment }) => !seen.has(experiment))
    isNew.forEach(({ experiment }) => seen.add(experiment))
    return isNew
  }

  return {
    show,
    takeBack() {
      leaving.forEach((takeBack) => safely(takeBack))
      leaving.clear()
    },
  }
}
