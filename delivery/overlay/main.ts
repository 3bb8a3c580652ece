import { finder } from '@medv/finder'
import { orderEdits, type Edit } from '../../core/edits/edit'
import type { FromPage, PointedElement, ToPage } from '../../shared/pointing'
import { applyEdit, elementOf, type AppliedEdit } from '../edits/applyEdit'
import { followLocations } from './locate'
import { createMarker } from './marker'
import { isWalkKey, walk } from './walk'

const script = document.currentScript as HTMLScriptElement
const { origin, searchParams } = new URL(script.src)
const token = searchParams.get('token') ?? ''
const marker = createMarker()
let applied: AppliedEdit[] = []

type WithoutToken<Message> = Message extends unknown ? Omit<Message, 'token'> : never

function send(message: WithoutToken<FromPage>): void {
  window.parent.postMessage({ ...message, token }, origin)
}

/** Shows the page with these edits and no others. */
function show(edits: readonly Edit[]): void {
  for (const each of applied.reverse()) each.revert()
  applied = []
  const missing: string[] = []
  for (const edit of orderEdits(edits)) {
    const element = elementOf(edit)
    if (element) applied.push(applyEdit(edit, element))
    else missing.push(edit.selector)
  }
  marker.refresh()
  send({ vetch: 'applied', missing })
}

function describe(element: Element): PointedElement {
  const { x, y, width, height } = element.getBoundingClientRect()
  const selector = finder(element, {
    className: (name) => !/^(is|has)-|\d{3,}/.test(name),
    idName: (name) => !/\d{3,}/.test(name),
  })
  return {
    selector,
    tag: element.localName,
    text: element.textContent ?? '',
    hasElements: element.childElementCount > 0,
    box: { x, y, width, height },
  }
}

/** Where the arrow keys have led to. */
let walked: Element | null = null

function point(element: Element): void {
  walked = element
  marker.select(element)
  send({ vetch: 'pointed', element: describe(element) })
}

function pointable(target: EventTarget | null): Element | null {
  return target instanceof Element &&
    target !== document.documentElement &&
    target !== document.body &&
    !marker.owns(target)
    ? target
    : null
}

/** Tells where elements stand, now and whenever the page has changed; null for those that are not there. */
const locateAll = followLocations((boxes, page) => send({ vetch: 'located', boxes, page }))

addEventListener('message', ({ data, origin: from, source }: MessageEvent<ToPage>) => {
  if (from !== origin || source !== window.parent || !data) return
  if (data.vetch === 'edits') show(data.edits)
  if (data.vetch === 'locate') locateAll(data.paths)
  if (data.vetch === 'select') marker.select(data.selector ? document.querySelector(data.selector) : null)
})

addEventListener('pointermove', (event) => marker.hover(pointable(event.target)), true)

// While pointing, nothing on the page reacts: neither links nor forms nor the page's own scripts.
for (const type of ['click', 'mousedown', 'mouseup', 'pointerdown', 'pointerup', 'submit', 'dblclick'] as const) {
  addEventListener(
    type,
    (event) => {
      event.preventDefault()
      event.stopImmediatePropagation()
      const element = type === 'click' ? pointable(event.target) : null
      if (!element) return
      point(element)
    },
    true,
  )
}
addEventListener(
  'keydown',
  (event) => {
    const { key } = event
    if (key === 'Escape') return send({ vetch: 'escape' })
    if (event.ctrlKey || event.metaKey || event.altKey || !(isWalkKey(key) || key === 'Enter')) return
    event.preventDefault()
    event.stopImmediatePropagation()
    if (key === 'Enter') {
      if (walked) point(walked)
      return
    }
    walked = walk(walked?.isConnected ? walked : null, key) ?? walked
    if (!walked) return
    walked.scrollIntoView({ block: 'nearest' })
    marker.hover(walked)
    send({ vetch: 'walked', element: describe(walked) })
  },
  true,
)
addEventListener('scroll', () => marker.refresh(), true)
addEventListener('resize', () => marker.refresh())

const announce = () => send({ vetch: 'ready', address: location.href, title: document.title })
if (document.readyState === 'loading') addEventListener('DOMContentLoaded', announce)
else announce()
