import type { SiteFile } from '../../shared/siteFile'
import { applyEdits } from './applyEdits'
import { currentConsent, listenForCommands } from './commands'
import { decide } from './decide'
import { listenForEvents } from './listen'
import { startPointing } from './pointing'
import { createReporter } from './report'
import { isTooLate, reveal } from './reveal'
import { identify, sessionId } from './visitor'

declare const __VETCH_SITE_FILE__: SiteFile

/** Whatever goes wrong in here, the page must show its original and go on. */
function attempt(work: () => void): void {
  try {
    work()
  } catch {
    reveal()
  }
}

attempt(() => {
  const siteFile = __VETCH_SITE_FILE__
  const source = (document.currentScript as HTMLScriptElement | null)?.src
  if (!source) return reveal()
  const origin = new URL(source).origin
  if (startPointing(origin, siteFile.key)) return reveal()

  let isActive = false
  const activate = () => {
    if (isActive || !currentConsent(siteFile.asksConsent)) return
    const start = performance.now()
    const visitor = identify()
    // Without a memory a visitor would get a new variant on every page: such visitors see the original, uncounted.
    if (!visitor) return
    isActive = true
    const reporter = createReporter(origin, siteFile.key, visitor, sessionId)
    const isLate = isTooLate()
    const decisions = isLate ? [] : decide(siteFile, visitor, location.href)
    attempt(() => applyEdits(decisions.flatMap(({ edits }) => edits)))
    // Lets a site's developers see in their own tools what Vetch costs their page.
    performance.measure('vetch', { start })
    // Exposures first: the page view that exposes counts as one from the exposure on.
    for (const { experiment, variant } of decisions) reporter.add({ type: 'exposure', experiment, variant })
    reporter.add({ type: 'page', properties: pageProperties() })
    listenForEvents(siteFile.listen, reporter.add)
    listenForCommands({ event: (event) => reporter.add({ type: 'custom', ...event }), consent: () => {} })
  }
  attempt(activate)
  if (!isActive) listenForCommands({ event: () => {}, consent: () => attempt(activate) })
  reveal()
})

function pageProperties(): Record<string, unknown> {
  return {
    referrer: document.referrer.slice(0, 500) || undefined,
    language: navigator.language,
    width: innerWidth,
    height: innerHeight,
    touch: navigator.maxTouchPoints > 0,
  }
}
