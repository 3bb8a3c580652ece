import type { SiteFile } from '../../shared/delivery/siteFile'
import { guarded } from './safely'

const LOOK_EVERY = 50

/** Events of the page view that is open, and names that code has called for in it. */
let happened: string[] = []
let called: string[] = []

/** What has happened in the page view, for what waits for it. */
export const happenings = () => ({ events: happened, calls: called })
export const noteHappening = (event: string) => void happened.push(event)
export const noteCall = (name: string) => void called.push(name)
export function forgetHappenings(): void {
  happened = []
  called = []
}

/** Calls back when an element may have come that something waits for. */
export function watchElements({ entries }: SiteFile, then: () => void): () => void {
  const isAwaited = entries.some((entry) => entry.kind === 'experiment' && entry.activation?.on === 'element')
  if (!isAwaited) return () => {}
  let waiting: ReturnType<typeof setTimeout> | undefined
  let lookedAt = -Infinity
  const look = guarded(() => {
    waiting = undefined
    lookedAt = performance.now()
    then()
  })
  const observer = new MutationObserver(() => {
    // At once where it can be, so that nobody sees the page as it was; busy pages are looked at now and then.
    if (performance.now() - lookedAt > LOOK_EVERY) look()
    else waiting ??= setTimeout(look, LOOK_EVERY)
  })
  observer.observe(document, { childList: true, subtree: true, attributes: true })
  return () => {
    observer.disconnect()
    clearTimeout(waiting)
  }
}
