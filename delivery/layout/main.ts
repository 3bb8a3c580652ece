import type { DeliveredEdit } from '../../core/edits/content'
import { LAYOUT_MARK, type PageLayout } from '../../shared/pictures/variantPicture'
import { everyKind } from '../edits/everyKind'
import { createKeeper } from '../snippet/keepApplied'
import { measurePage } from './measurePage'

/** What a browser without a person does for a picture of a variant: shows it, and measures how it is laid out. */
const layout: PageLayout = {
  apply(edits: DeliveredEdit[]) {
    const keeper = createKeeper(everyKind)
    keeper.apply(edits)
    keeper.keep()
  },
  measure: measurePage,
}
Reflect.set(window, Symbol.for(LAYOUT_MARK), layout)
