import { decide } from '../../delivery/snippet/decide'
import { circumstancesNow, forgetFacts, noteEvent } from '../../delivery/snippet/facts'
import { noteView } from '../../delivery/snippet/rememberedVisitor'
import { forgetVisitor, joinSessionNow } from '../../delivery/snippet/visitor'
import type { SiteFile } from '../../shared/delivery/siteFile'

/** What a visitor's browser went through: where they came from, what they opened when, and the events on each page. */
export interface LiveVisitor {
  id: string
  userAgent: string
  language: string
  screen: number
  place: Record<string, string | null>
  views: { at: number; path: string; referrer: string; events: { name: string; at: number }[] }[]
}

/** Of each visitor, experiment by experiment, the first view on which it was shown, and its variant. */
export type LiveDecisions = Record<string, Record<number, [view: number, variant: number]>>

/**
 * Lets browsers be lived through one after the other, in one page: the clock, the address and what the browser says of
 * itself are theirs, and everything else is the snippet's own.
 */
export function liveThrough(siteFile: SiteFile, visitors: readonly LiveVisitor[]): LiveDecisions {
  const decisions: LiveDecisions = {}
  let referrer = ''
  Object.defineProperty(document, 'referrer', { configurable: true, get: () => referrer })
  for (const { id, userAgent, language, screen: width, place, views } of visitors) {
    forgetFacts()
    forgetVisitor()
    sessionStorage.setItem('vetch_place', JSON.stringify(place))
    Object.defineProperty(navigator, 'userAgent', { configurable: true, get: () => userAgent })
    Object.defineProperty(navigator, 'language', { configurable: true, get: () => language })
    Object.defineProperty(screen, 'width', { configurable: true, get: () => width })
    const own: Record<number, [number, number]> = (decisions[id] = {})
    for (const [index, view] of views.entries()) {
      Date.now = () => view.at
      referrer = view.referrer
      history.replaceState(null, '', view.path)
      const shown = decide(siteFile, id, location.href, circumstancesNow(siteFile, ''))
      for (const { experiment, variant } of shown) own[experiment] ??= [index, variant]
      noteView(siteFile, shown)
      joinSessionNow()
      for (const event of view.events) {
        Date.now = () => event.at
        noteEvent(event.name, siteFile)
      }
    }
  }
  return decisions
}
Object.assign(window, { liveThrough })
