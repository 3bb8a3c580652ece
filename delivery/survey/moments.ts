import type { Moment } from '../../core/survey/survey'
import { guarded } from '../snippet/safely'
import { native, nativeDocument } from '../native'

/** On touch screens somebody is about to leave who scrolls back up by so much of the window within so many ms. */
const BACK_UP = 0.6
const BACK_UP_TIME = 700
/** Nobody leaves who has just come, in ms. */
const SETTLED = 3000

/**
 * Waits for a moment on the page that is open.
 *
 * @param onEvent - calls what it is given at each event of the page's own, and returns how to stop that
 * @returns a function that waits no longer
 */
export function awaitMoment(
  moment: Moment,
  onEvent: (heard: (name: string) => void) => () => void,
  then: () => void,
): () => void {
  let isOver = false
  const stops: (() => void)[] = []
  const stop = () => {
    isOver = true
    stops.splice(0).forEach((each) => each())
  }
  const come = guarded(() => {
    if (isOver) return
    stop()
    then()
  })
  const listen = (target: EventTarget, name: string, work: (event: never) => void) => {
    const guardedWork = guarded(work as (event: Event) => void) as EventListener
    native(target).addEventListener(name, guardedWork, { passive: true })
    stops.push(() => native(target).removeEventListener(name, guardedWork))
  }

  switch (moment.kind) {
    case 'seconds': {
      const timer = setTimeout(come, moment.seconds * 1000)
      stops.push(() => clearTimeout(timer))
      break
    }
    case 'leaving': {
      const since = performance.now()
      const leave = () => void (performance.now() - since > SETTLED && come())
      listen(document, 'mouseout', (event: MouseEvent) => !event.relatedTarget && event.clientY <= 0 && leave())
      let turn = { y: scrollY, at: since }
      listen(window, 'scroll', () => {
        const now = performance.now()
        if (scrollY >= turn.y || now - turn.at > BACK_UP_TIME) turn = { y: scrollY, at: now }
        else if (turn.y - scrollY > BACK_UP * innerHeight && matchMedia('(hover: none)').matches) leave()
      })
      break
    }
    case 'depth': {
      const look = () => {
        const height = native(nativeDocument.documentElement).scrollHeight
        if ((scrollY + innerHeight) / height >= moment.percent / 100) come()
      }
      listen(window, 'scroll', look)
      look()
      break
    }
    case 'event':
      stops.push(onEvent((name) => name === moment.name && come()))
  }
  return stop
}
