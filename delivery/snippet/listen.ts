import { parseAmount } from '../../core/measurement/parseAmount'
import { matchesPageRule } from '../../core/targeting/pageRule'
import type { SiteFileListeners } from '../../shared/siteFile'
import type { AddEvent } from './report'

/** Reports what the metrics of the running experiments count. */
export function listenForEvents(listen: SiteFileListeners, add: AddEvent): void {
  if (listen.clicks.length > 0) {
    document.addEventListener('click', (event) => reportMatches('click', listen.clicks, event.target, add), true)
  }
  if (listen.submits.length > 0) {
    document.addEventListener('submit', (event) => reportMatches('submit', listen.submits, event.target, add), true)
  }
  const amounts = listen.amounts.filter((each) => matchesPageRule(each.page, location.href))
  if (amounts.length > 0) whenParsed(() => amounts.forEach(({ selector }) => reportAmount(selector, add)))
}

function reportMatches(
  type: 'click' | 'submit',
  selectors: readonly string[],
  target: EventTarget | null,
  add: AddEvent,
): void {
  if (!(target instanceof Element)) return
  const matching = selectors.filter((selector) => {
    try {
      return target.closest(selector) !== null
    } catch {
      return false
    }
  })
  if (matching.length > 0) add({ type, selectors: matching })
}

function reportAmount(selector: string, add: AddEvent): void {
  const amount = parseAmount(document.querySelector(selector)?.textContent ?? '')
  if (amount !== null) add({ type: 'amount', selectors: [selector], amount })
}

function whenParsed(work: () => void): void {
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', work)
  else work()
}
