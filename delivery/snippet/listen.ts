import { parseAmount } from '../../core/measurement/parseAmount'
import { matchesPageRule } from '../../core/targeting/pageRule'
import { SURVEY_TAG } from '../../shared/intake/recorder'
import type { ListenedAmount } from '../../shared/delivery/siteFile'
import { elementPath, labelOf } from './elementPath'
import type { AddEvent } from './report'
import { guarded, safely } from './safely'
import { native, nativeDocument } from '../native'

const MOST_ERRORS = 5
/** When an amount is looked for again that the page has not drawn yet, in ms after its start. */
const AMOUNT_TRIES = [0, 500, 1500, 4000, 10_000]

/** What is clicked in a survey is no click on the page. */
export const isSurvey = (target: Element) => native(target).localName === SURVEY_TAG

/**
 * Reports every click and every submitted form, whether a metric counts it or not, and errors of the page.
 *
 * @returns a function that listens anew, for pages that were written over
 */
export function listenForEvents(add: AddEvent): () => void {
  let errors = 0
  const onClick = guarded((event: MouseEvent) => {
    if (!(event.target instanceof Element) || isSurvey(event.target)) return
    const box = native(event.target).getBoundingClientRect()
    const share = (distance: number, size: number) => (size > 0 ? Math.round((1000 * distance) / size) : 0)
    add({
      type: 'click',
      element: elementPath(event.target),
      label: labelOf(event.target),
      at: [Math.round(event.pageX), Math.round(event.pageY)],
      within: [share(event.clientX - box.left, box.width), share(event.clientY - box.top, box.height)],
    })
  })
  const onSubmit = guarded((event: SubmitEvent) => {
    if (event.target instanceof Element) add({ type: 'submit', element: elementPath(event.target) })
  })
  const onError = guarded((event: ErrorEvent) => {
    if (event.message && ++errors <= MOST_ERRORS) add({ type: 'error', name: event.message.slice(0, 200) })
  })
  const listen = () => {
    addEventListener('click', onClick, true)
    addEventListener('submit', onSubmit, true)
    addEventListener('error', onError)
  }
  listen()
  return listen
}

/**
 * Reads the amounts that metrics ask for off a page, once each.
 *
 * @returns a function that stops looking
 */
export function readAmounts(listened: readonly ListenedAmount[], currency: string, add: AddEvent): () => void {
  const wanted = new Set(listened.filter((each) => matchesPageRule(each.page, location.href)))
  if (wanted.size === 0) return () => {}
  const look = guarded(() => wanted.forEach(read))
  for (const after of AMOUNT_TRIES) setTimeout(look, after)
  nativeDocument.addEventListener('DOMContentLoaded', look)

  function read(each: ListenedAmount): void {
    const amount = parseAmount(native(nativeDocument.querySelector(each.selector))?.textContent ?? '')
    if (amount === null || nativeDocument.readyState === 'loading') return
    wanted.delete(each)
    add({ type: 'amount', name: each.selector, amount, currency, reference: referenceOf(each) })
  }
  return () => wanted.clear()
}

/** Number of the order that an amount belongs to, where the metric says how to find it. */
function referenceOf({ reference }: ListenedAmount): string | undefined {
  if (!reference) return undefined
  const text = safely(() =>
    'parameter' in reference
      ? new URL(location.href).searchParams.get(reference.parameter)
      : native(nativeDocument.querySelector(reference.selector))?.textContent?.trim(),
  )
  return text?.slice(0, 200) || undefined
}
