import type { TellBehavior } from '../../shared/intake/recorder'
import { elementPath, labelOf } from '../snippet/elementPath'
import { isSurvey } from '../snippet/listen'
import { guarded } from '../snippet/safely'
import type { Watch } from './main'
import { native, nativeDocument } from '../native'

/** Clicks of one burst follow each other within so many ms, and so many pixels around the first. */
const BURST_PAUSE = 1000
const BURST_RADIUS = 30
const FEWEST_IN_BURST = 3
/** A click to which the page has not answered by then has done nothing. */
const ANSWER_TIME = 1000

interface Click {
  element: Element
  at: readonly [number, number]
  page: [number, number]
  time: number
  isAnswered: boolean
}

/**
 * Tells clicks that did nothing, and bursts of clicks most of which did nothing: quick clicks on a button that answers
 * to each are no rage. An answer is any change of the page, a scroll, a selection, a change of focus, or that the page
 * was left.
 */
export function watchClicks(tell: TellBehavior): Watch {
  let burst: Click[] = []
  let closing: ReturnType<typeof setTimeout> | undefined
  const open = new Set<Click>()
  const timers = new Set<ReturnType<typeof setTimeout>>()
  const onAnswer = () => open.forEach((click) => (click.isAnswered = true))
  const changes = new MutationObserver(guarded(onAnswer))

  const onClick = guarded((event: MouseEvent) => {
    const { target } = event
    if (!(target instanceof Element) || isBackground(target) || isField(target) || isSurvey(target)) return
    const click: Click = {
      element: target,
      at: [event.clientX, event.clientY],
      page: [Math.round(event.pageX), Math.round(event.pageY)],
      time: performance.now(),
      isAnswered: false,
    }
    if (open.size === 0)
      changes.observe(document, { subtree: true, childList: true, attributes: true, characterData: true })
    open.add(click)
    after(ANSWER_TIME, () => judge(click))
    if (!continues(click)) endBurst()
    burst.push(click)
    clearTimeout(closing)
    closing = after(BURST_PAUSE + ANSWER_TIME, endBurst)
  })

  function after(ms: number, work: () => void): ReturnType<typeof setTimeout> {
    const timer = setTimeout(
      guarded(() => {
        timers.delete(timer)
        work()
      }),
      ms,
    )
    timers.add(timer)
    return timer
  }

  function continues({ at: [x, y], time }: Click): boolean {
    const [first, last] = [burst[0], burst.at(-1)]
    if (!first || !last) return false
    return time - last.time <= BURST_PAUSE && Math.hypot(x - first.at[0], y - first.at[1]) <= BURST_RADIUS
  }

  function judge(click: Click): void {
    close(click)
    if (click.isAnswered || getSelection()?.isCollapsed === false) return
    tell({ type: 'dead', ...described(click) })
  }

  function close(click: Click): void {
    open.delete(click)
    if (open.size === 0) changes.disconnect()
  }

  function endBurst(): void {
    const unanswered = burst.filter(({ isAnswered }) => !isAnswered).length
    if (burst.length >= FEWEST_IN_BURST && unanswered * 2 > burst.length)
      tell({ type: 'rage', ...described(burst[0]!), properties: { clicks: burst.length } })
    burst = []
  }

  const ANSWERS = ['focusin', 'input', 'change', 'submit', 'scroll', 'blur', 'toggle', 'play'] as const
  const isOwn = { capture: true, passive: true } as const
  addEventListener('click', onClick, true)
  ANSWERS.forEach((name) => addEventListener(name, onAnswer, isOwn))
  return {
    tell() {
      // Whoever leaves right after a click was taken somewhere by it.
      onAnswer()
      endBurst()
    },
    stop() {
      removeEventListener('click', onClick, true)
      ANSWERS.forEach((name) => removeEventListener(name, onAnswer, isOwn))
      timers.forEach(clearTimeout)
      changes.disconnect()
    },
  }
}

function described({ element, page }: Click) {
  return { element: elementPath(element), label: labelOf(element), at: page }
}

function isBackground(element: Element): boolean {
  return element === nativeDocument.documentElement || element === nativeDocument.body
}

/** A click into a field that has the focus already changes nothing, and is meant to. */
function isField(element: Element): boolean {
  return (
    native(element).closest('input:not([type=button],[type=submit]),select,textarea,label,option,[contenteditable]') !==
    null
  )
}
