import type { DeliveredEdit } from '../../core/edits/content'
import { LAYOUT_MARK, type PageLayout } from '../../shared/pictures/variantPicture'
import { everyKind } from '../edits/everyKind'
import { createKeeper } from '../snippet/keepApplied'
import { measurePage } from './measurePage'
import { isSameWith, standingsOf } from './standing'

/** What a browser without a person does for a picture of a variant: shows it, and measures how it is laid out. */
const layout: PageLayout = {
  apply(edits: DeliveredEdit[]) {
    const keeper = createKeeper(everyKind)
    keeper.apply(edits)
    keeper.keep()
  },
  measure: measurePage,
  stand: (edits) => ({ standings: standingsOf(edits), isSame: isSameWith(edits) }),
}
Reflect.set(window, Symbol.for(LAYOUT_MARK), layout)
