import { timeOrderedId } from '../../core/identity/timeOrderedId'

const MOST_IN_A_MILLISECOND = 4095

/** What is added to the time since the page was opened: the browser's clock, but it never goes back. */
let origin = Date.now() - performance.now()
let last = 0
let counter = 0

/** The browser's time in ms since 1970, running on evenly even when its clock is set meanwhile. */
export function now(): number {
  return Math.floor(origin + performance.now())
}

/** Takes up what the clock has gained while the page slept. */
export function catchUp(): void {
  origin = Math.max(origin, Date.now() - performance.now())
}

/** An id with the time of now, after every id of this page before it. */
export function newId(): string {
  const at = now()
  if (at > last) {
    last = at
    counter = 0
  } else if (++counter > MOST_IN_A_MILLISECOND) {
    last++
    counter = 0
  }
  return timeOrderedId(last, counter, crypto.getRandomValues(new Uint8Array(8)))
}
