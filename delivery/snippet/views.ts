import type { Group } from '../../core/targeting/condition'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { guarded, safely } from './safely'
import { listenForEvents, readAmounts } from './listen'
import { forgetHappenings, watchElements } from './happenings'
import { catchUp } from './clock'
import { isTooLate } from './reveal'
import type { EventCommand } from './commands'
import { noteVariants, noteView } from './rememberedVisitor'
import { watchNavigation } from './navigation'
import { addressText, keptAddress } from '../../core/targeting/address'
import type { Applier } from '../edits/applier'
import { followRules } from './followRules'
import { circumstancesNow } from './facts'
import { personToTell, toldAttributes, toldDetails } from './toldByPage'
import { watchFacts } from './factChanges'
import { decide, type Decision } from './decide'
import { createKeeper } from './keepApplied'
import { createReporter, type NewEvent, type NewView } from './report'
import { handOn } from './handOn'
import { linkRecorder } from './recorderLink'
import { nativeDocument } from '../native'

/** Longest time that is told, in ms. */
const LONGEST = 600_000

export interface Counting {
  event: (event: EventCommand) => void
  /** Takes edits back, stops counting and forgets what was not sent. */
  stop: () => void
}

/**
 * Goes through a visitor's page views: enters each (decides, applies, counts) and leaves it again (takes edits back),
 * for as long as the page lives.
 */
export function startCounting(siteFile: SiteFile, base: string, visitor: string, applier: Applier): Counting {
  const parameters = new Set(siteFile.parameters)
  const reporter = __WITH_RULES__
    ? createReporter(base, siteFile.key, () => personToTell(siteFile))
    : createReporter(base, siteFile.key)
  const context = __WITH_RULES__
    ? {
        base,
        visitor,
        tell: reporter.add,
        place: reporter.place,
        fulfils: (audience: Group) => circumstancesNow(siteFile, base).fulfils(audience),
      }
    : { base, visitor, tell: reporter.add, place: reporter.place }
  const recorders = (['behavior', 'drift', 'recording', 'survey'] as const).map((kind) =>
    linkRecorder(kind, siteFile, context),
  )
  let takeBack: (() => void)[] = []
  let isStopped = false
  /** When the view was opened, on the page's own clock: the first one with the page. */
  let opened = 0

  function leave(): void {
    recorders.forEach(({ leave: leaveView }) => safely(leaveView))
    takeBack.reverse().forEach((each) => safely(each))
    takeBack = []
  }

  function enter(isLate: boolean): void {
    const start = performance.now()
    const keeper = createKeeper(applier)
    takeBack.push(keeper.takeBack)
    // Whoever sees the original because a change failed was exposed to nothing.
    const show = (decisions: readonly Decision[]) =>
      decisions.filter(({ edits }) => safely(() => (keeper.apply(edits), true)))
    const changing = __WITH_RULES__ ? followRules(siteFile, base, visitor, applier, show) : null
    const shown = isLate ? [] : changing ? changing.show() : show(decide(siteFile, visitor, location.href))
    keeper.keep()
    // To whoever does not look at the page, nothing shows late. Of a page whose clock is odd nothing is told either.
    const took = nativeDocument.hidden ? 0 : Math.round(performance.now() - opened)
    const shownAfter = took > 0 ? Math.min(LONGEST, took) : undefined
    // Lets a site's developers see in their own tools what Vetch costs their page.
    performance.measure('vetch', { start })
    whenOpened(() => {
      if (isStopped) return
      // The title comes later; where it was is known now, and soon may be somewhere else.
      const { href } = location
      const describe = () => describeView(visitor, href, parameters)
      const known = () => ({ attributes: toldAttributes(siteFile), person: personToTell(siteFile) })
      reporter.enter(__WITH_RULES__ ? () => ({ ...describe(), ...known() }) : describe)
      for (const { experiment, variant, period } of shown)
        reporter.add({ type: 'exposure', experiment, variant, period, shownAfter })
      if (changing) {
        noteView(siteFile, shown)
        handOn(siteFile, shown)
        const again = () => {
          if (isStopped || isLate) return
          const more = changing.show()
          keeper.keep()
          for (const { experiment, variant, period } of more)
            reporter.add({ type: 'exposure', experiment, variant, period })
          noteVariants(more)
          handOn(siteFile, more)
        }
        watchFacts(again)
        takeBack.push(watchElements(siteFile, guarded(again)))
        takeBack.push(changing.takeBack)
      }
      takeBack.push(readAmounts(siteFile.amounts, siteFile.currency, reporter.add))
      recorders.forEach((each) => each.enter())
    })
  }

  const next = guarded(() => {
    if (isStopped) return
    leave()
    opened = performance.now()
    if (__WITH_RULES__) forgetHappenings()
    enter(false)
  })
  const onShown = guarded((event: PageTransitionEvent) => {
    if (!event.persisted) return
    catchUp()
    next()
  })

  enter(isTooLate())
  let root = nativeDocument.documentElement
  const listenAgain = listenForEvents(reporter.add)
  watchNavigation(next)
  addEventListener('pageshow', onShown)
  // A late `document.write` takes listeners away with everything else.
  const rewritten = new MutationObserver(guarded(onRewritten))
  rewritten.observe(document, { childList: true })
  function onRewritten(): void {
    if (nativeDocument.documentElement === root || !nativeDocument.documentElement || isStopped) return
    root = nativeDocument.documentElement
    listenAgain()
  }

  return {
    event: ({ event, amount, currency, id, details }) => {
      const told: NewEvent = {
        type: 'custom',
        name: event.slice(0, 100),
        amount,
        currency,
        reference: id === undefined ? undefined : String(id).slice(0, 200),
      }
      if (__WITH_RULES__) told.details = toldDetails(siteFile, details)
      reporter.add(told)
    },
    stop() {
      isStopped = true
      rewritten.disconnect()
      recorders.forEach((each) => safely(each.stop))
      leave()
      reporter.stop()
    },
  }
}

/** A page that the browser has prepared and nobody has opened yet was not viewed. */
function whenOpened(work: () => void): void {
  if ((document as { prerendering?: boolean }).prerendering)
    nativeDocument.addEventListener('prerenderingchange', guarded(work), { once: true })
  else work()
}

function describeView(visitor: string, address: string, parameters: ReadonlySet<string>): NewView {
  const kept = keptAddress(address, parameters)
  return {
    visitor,
    address: kept ? addressText(kept, location.protocol).slice(0, 4000) : location.origin,
    title: nativeDocument.title.slice(0, 300) || undefined,
    referrer: safely(() => new URL(nativeDocument.referrer).origin),
    language: navigator.language?.slice(0, 40),
    timeZone: safely(() => Intl.DateTimeFormat().resolvedOptions().timeZone),
    screen: [screen.width, screen.height],
    window: [innerWidth, innerHeight],
  }
}
