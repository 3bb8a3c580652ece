import { matchesPage } from '../../core/targeting/pageRule'
import type { DeliveredPreview } from '../../shared/delivery/preview'
import { keepServed } from '../edits/servedKeeper'
import { everyKind } from '../edits/everyKind'
import { watchScriptFailures } from '../edits/scriptFailures'
import { createKeeper, type Keeper } from '../snippet/keepApplied'
import { watchNavigation } from '../snippet/navigation'
import { createBar } from './bar'
import { keepPin, keepPlace, keptVariant, leave, leavesOutServed } from './place'
import { nativeDocument } from '../native'

declare const __VETCH_PREVIEW__: DeliveredPreview | null

const preview = __VETCH_PREVIEW__
// A link that has ended lets nobody go on by mistake: the page is opened as visitors have it.
if (preview) show(preview)
else leave(false)

function show({ experiment, pages, variants, served, first, expires, device }: DeliveredPreview): void {
  const isPinned = device !== null
  // What a pinned device shows is chosen in Vetch.
  let shown = (isPinned ? null : keptVariant(variants.length)) ?? first
  let keeper: Keeper | null = null
  let below: Keeper | null = null
  const isWithout = !isPinned && leavesOutServed()
  const told = {
    experiment,
    variants: variants.map(({ name }) => name),
    served: served.map(({ name }) => name),
    isWithout,
    expires,
    device,
  }
  const end = () => leave(isPinned)
  const bar = createBar(told, { choose, turn, leave: end })
  watchScriptFailures(bar.fail)
  if (isPinned) keepPin()

  function apply(): void {
    keeper?.takeBack()
    below?.takeBack()
    below = keepServed(everyKind, isWithout ? [] : served)
    if (!isPinned) keepPlace(shown, isWithout)
    const variant = variants[shown]
    const isPart = variant !== undefined && matchesPage(pages, location.href)
    keeper = createKeeper(everyKind)
    if (isPart) {
      keeper.apply(variant.edits)
      keeper.keep()
    }
    bar.tell(shown, isPart)
  }
  /** Anew from the page as it is: a script of the variant before may have left anything. */
  function choose(variant: number): void {
    keepPlace(variant, isWithout)
    location.reload()
  }
  /** With what is served anyway, or without it. */
  function turn(): void {
    keepPlace(shown, !isWithout)
    location.reload()
  }

  shown = Math.min(shown, variants.length - 1)
  if (nativeDocument.readyState === 'loading') addEventListener('DOMContentLoaded', apply)
  else apply()
  watchNavigation(apply)
  setTimeout(end, Math.min(expires - Date.now(), 2 ** 31 - 1))
}
