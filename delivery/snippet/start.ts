import { murmurHash3 } from '../../core/assignment/murmurHash3'
import { listenForCommands, type EventCommand } from './commands'
import { fetchScript } from './fetchScript'
import { startPointing } from './pointing'
import { keepAnswer, mayCount } from './consent'
import type { RenderedSiteFile } from '../../shared/delivery/siteFile'
import { startCounting, type Counting } from './views'
import { noteWaiting } from './toldByPage'
import { reveal } from './reveal'
import { HELD_BACK } from '../../shared/delivery/scriptLine'
import { writeStorage } from './keeping'
import { forgetVisitor, identify } from './visitor'
import type { Applier } from '../edits/applier'
import { guarded, safely } from './safely'
import { forgetFacts, noteEvent } from './facts'
import { native, nativeDocument } from '../native'

/** What a page does before the visitor has agreed is kept in memory, and only so much of it. */
const MOST_WAITING = 100

/** Whatever goes wrong in here, the page must show its original and go on. */
export function startSnippet(siteFile: RenderedSiteFile, applier: Applier): void {
  if (safely(() => start(siteFile, applier)) !== true) reveal()
}

function start(siteFile: RenderedSiteFile, applier: Applier): boolean {
  const source = (nativeDocument.currentScript as HTMLScriptElement | null)?.src
  const base = source ? /^(.*)\/s\/[\w-]+\.js/.exec(source)?.[1] : undefined
  if (!base || isRunning(siteFile.key)) return false
  if (startPointing(base, siteFile.key)) return false
  // What another environment shows, and what is counted of it, is its own affair: it comes with its own key.
  const key = __WITH_RULES__ ? siteFile.environments?.[murmurHash3(location.origin, 0)] : undefined
  if (__WITH_RULES__ && key) {
    fetchScript(`${base}/s/${key}.js`)
    return true
  }

  if (__WITH_RULES__) noteWaiting()
  let counting: Counting | null = null
  const waiting: EventCommand[] = []
  const count = () =>
    identify((visitor) => {
      // Without a memory a visitor would get a new variant on every page: such visitors see the original, uncounted.
      const started =
        visitor && !counting && mayCount(siteFile.asksConsent)
          ? safely(() => startCounting(siteFile, base, visitor, applier))
          : null
      reveal()
      if (!started) return
      counting = started
      writeStorage(HELD_BACK, siteFile.held)
      waiting.splice(0).forEach(started.event)
    })

  if (mayCount(siteFile.asksConsent)) count()
  else reveal()
  listenForCommands({
    event: (event) => {
      if (__WITH_RULES__ && mayCount(siteFile.asksConsent)) noteEvent(event.event, siteFile)
      if (counting) counting.event(event)
      else if (waiting.length < MOST_WAITING) waiting.push(event)
    },
    consent: (isGiven) => {
      keepAnswer(isGiven)
      if (isGiven && !counting) guarded(count)()
      if (isGiven) return
      waiting.length = 0
      counting?.stop()
      counting = null
      forgetVisitor()
      if (__WITH_RULES__) forgetFacts()
    },
  })
  return true
}

/**
 * Whether the line is on this page twice, or the page is shown in a frame of itself: it counts once. The page around
 * may still wait for its snippet, so its line tells as well as its mark.
 */
function isRunning(key: string): boolean {
  const mark = Symbol.for(`vetch ${key}`)
  const isMarked = (page: Window) => (page as unknown as Record<symbol, boolean>)[mark]
  for (let page: Window = window; page !== page.parent;) {
    page = page.parent
    // Pages of other origins refuse to be looked into.
    if (safely(() => isMarked(page) || native(page.document).querySelector(`script[src$="/s/${key}.js"]`))) return true
  }
  if (isMarked(window)) return true
  ;(window as unknown as Record<symbol, boolean>)[mark] = true
  return false
}
