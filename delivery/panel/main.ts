import { dryRun } from '../../core/targeting/dryRun'
import type { DeliveredPanel } from '../../shared/delivery/panel'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { everyKind } from '../edits/everyKind'
import { leave, tokenOfTab } from '../preview/place'
import { watchFacts } from '../snippet/factChanges'
import { circumstancesNow, gatherFacts, noteEvent } from '../snippet/facts'
import { forgetHappenings, watchElements } from '../snippet/happenings'
import { createKeeper, type Keeper } from '../snippet/keepApplied'
import { listenForCommands } from '../snippet/commands'
import { listenForEvents, readAmounts } from '../snippet/listen'
import { watchNavigation } from '../snippet/navigation'
import { readCookie, readStorage } from '../snippet/keeping'
import { safely } from '../snippet/safely'
import { keptChoices, keepChoice } from './choices'
import { createPanel } from './panel'
import { nativeDocument } from '../native'

declare const __VETCH_PANEL__: DeliveredPanel | null

const panel = __VETCH_PANEL__
// A link that has ended lets nobody go on by mistake: the page is opened as visitors have it.
if (panel) show(panel)
else leave(false)

/** Decides as for any visitor, shows it with the reasons, and counts nothing. */
function show({ things, siteFile, audiences, expires }: DeliveredPanel): void {
  const base =
    /^(.*)\/overlay\.js/.exec((nativeDocument.currentScript as HTMLScriptElement | null)?.src ?? '')?.[1] ?? ''
  // The place is asked for where something that does not run yet needs it, too.
  const asking: SiteFile = {
    ...siteFile,
    persons: true,
    entries: things.map(({ id, pages, audience, salt, share, activation }) => ({
      kind: 'experiment',
      id,
      pages: [...pages],
      audience,
      salt,
      share,
      group: null,
      weights: [],
      edits: [],
      activation: activation ?? undefined,
    })),
  }
  const visitor = readCookie('vetch_visitor') ?? readStorage('vetch_visitor') ?? 'somebody-new'
  const view = createPanel(audiences, (experiment, variant) => {
    keepChoice(experiment, variant)
    location.reload()
  })
  window.name = tokenOfTab()
  let keeper: Keeper | null = null
  let stopWatching = () => {}
  let stopReading = () => {}
  const shown = new Map<number, number>()

  function decide(): void {
    const chosen = keptChoices()
    const facts = gatherFacts(asking, base)
    const { isActive, person } = circumstancesNow(asking, base)
    const answers = dryRun(things, visitor, facts, isActive, person)
    things.forEach((thing, index) => {
      const { reason, variant } = answers[index]!
      if (thing.kind !== 'experiment' && thing.kind !== 'rollout') return
      const own = chosen[thing.id] ?? (thing.state === 'running' && reason === null ? variant : null)
      // What is on the page stays for the view, as it does for visitors.
      if (own === null || shown.has(thing.id) || reason === 'page') return
      shown.set(thing.id, own)
      // What cannot be carried out shows visitors the original, and is no error of the page.
      const isApplied = safely(() => (keeper?.apply(thing.variants[own]?.edits ?? []), true))
      const what = `${thing.variants[own]?.name} of “${thing.name}”`
      view.log(isApplied ? `exposure: ${what}` : `could not be applied: ${what}`)
    })
    keeper?.keep()
    view.tell(things.map((thing, index) => ({ thing, answer: answers[index]!, shown: shown.get(thing.id) ?? null })))
  }
  function enter(): void {
    keeper?.takeBack()
    stopWatching()
    stopReading()
    shown.clear()
    keeper = createKeeper(everyKind)
    view.log(`page view: ${location.pathname}${location.search}`)
    decide()
    stopWatching = watchElements(asking, decide)
    stopReading = readAmounts(siteFile.amounts, siteFile.currency, ({ amount, currency }) =>
      view.log(`amount: ${amount} ${currency}`),
    )
  }

  watchFacts(decide)
  listenForEvents(({ type, element, label, name }) =>
    view.log([type, label ?? name ?? element].filter(Boolean).join(': ')),
  )
  listenForCommands({
    event: ({ event, amount, currency }) => {
      view.log(`event: ${event}${amount === undefined ? '' : `, ${amount} ${currency ?? siteFile.currency}`}`)
      noteEvent(event, asking)
    },
    consent: (isGiven) => view.log(`consent: ${isGiven ? 'given' : 'withdrawn'}`),
  })
  if (nativeDocument.readyState === 'loading') addEventListener('DOMContentLoaded', enter)
  else enter()
  watchNavigation(() => {
    forgetHappenings()
    enter()
  })
  setTimeout(() => leave(false), Math.max(0, expires - Date.now()))
}
