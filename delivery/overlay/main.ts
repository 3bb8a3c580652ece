import type { PointedElement, ToPage } from '../../shared/edits/pointing'
import { findElement } from '../edits/findElement'
import { watchScriptFailures } from '../edits/scriptFailures'
import { watchNavigation } from '../snippet/navigation'
import { editsOfStep } from './arrange'
import { copiedPath, isOpened, receive, send } from './channel'
import { describe, nameOf, standingOf } from './describe'
import { createGestures } from './gestures'
import { followLocations } from './locate'
import { createMarker } from './marker'
import { elementOfRef } from './refs'
import { followSideways } from './sideways'
import { createShownEdits, type ShownEdits } from './shownEdits'
import { watchTexts } from './changingTexts'
import { isWalkKey, walk } from './walk'
import { safely } from '../snippet/safely'
import { native, nativeDocument } from '../native'

const marker = createMarker()
/** A page may change many texts at once. */
const TELLS_AFTER = 300
let telling: ReturnType<typeof setTimeout> | undefined
const texts = watchTexts(() => {
  telling ??= setTimeout(() => {
    telling = undefined
    send({ vetch: 'applied', outcomes: shown.outcomes() })
  }, TELLS_AFTER)
})
const shownEdits = createShownEdits(texts)
/** What Vetch does to the page is no change of the page itself. */
const shown: ShownEdits = {
  outcomes: shownEdits.outcomes,
  serve: (things) => texts.unnoted(() => shownEdits.serve(things)),
  show: (edits) => texts.unnoted(() => shownEdits.show(edits)),
  asItIs: (look) => texts.unnoted(() => shownEdits.asItIs(look)),
}
let isPointing = isOpened
let selected: Element[] = []
/** Where the arrow keys have led to. */
let walked: Element | null = null

const gestures = createGestures(
  marker,
  () => selected,
  shown.asItIs,
  (edits) => edits.length > 0 && send({ vetch: 'made', edits }),
)

/** An element as it is without the edits, or with them where one of them has brought it; and where it stands now. */
function described(element: Element): PointedElement {
  const own =
    shown.asItIs(() => (native(element).isConnected ? describe(element, false) : null)) ?? describe(element, true)
  return { ...own, ...standingOf(element), isChanging: texts.isChanging(element) }
}

watchScriptFailures((failure) => send({ vetch: 'failed', ...failure }))

/** Where the chosen elements stood when Vetch was told last. */
let toldStanding = ''
const standing = () => JSON.stringify(selected.map((element) => ({ ...standingOf(element), box: null })))

function choose(elements: readonly Element[]): void {
  const wanted = elements.filter((element) => native(element).isConnected)
  // What cannot be described is not chosen: the panel must never show one element while another is outlined.
  const told = safely(() => wanted.map(described))
  selected = told ? wanted : []
  walked = selected.at(-1) ?? null
  marker.select(selected)
  send({ vetch: 'pointed', elements: told ?? [] })
  toldStanding = standing()
}

/** Adds an element to those that are chosen, or takes it away; none holds another. */
function toggle(element: Element): void {
  const others = selected.filter(
    (each) => each !== element && !native(each).contains(element) && !native(element).contains(each),
  )
  choose(selected.includes(element) ? others : [...others, element])
}

function pointable(target: EventTarget | null): Element | null {
  return target instanceof Element &&
    target !== nativeDocument.documentElement &&
    target !== nativeDocument.body &&
    !marker.owns(target)
    ? target
    : null
}

/** Tells where elements stand, now and whenever the page has changed; null for those that are not there. */
const locateAll = followLocations((boxes, page) => send({ vetch: 'located', boxes, page }))

const measureSideways = followSideways(shown.asItIs, (by) => send({ vetch: 'sideways', by }))

function take(message: ToPage): void {
  switch (message.vetch) {
    case 'edits':
      send({ vetch: 'applied', outcomes: shown.show(message.edits) })
      measureSideways()
      return standing() === toldStanding ? marker.refresh() : choose(selected)
    case 'served':
      return shown.serve(message.things)
    case 'select':
      return choose(message.refs.flatMap((ref) => elementOfRef(ref) ?? []))
    case 'show': {
      const element = findElement(message.selector, message.clues)
      if (!element) return choose([])
      native(element).scrollIntoView({ block: 'center' })
      return choose([element])
    }
    case 'hover': {
      const element = message.ref === null ? null : elementOfRef(message.ref)
      return marker.hover(element, element ? nameOf(element).words : '')
    }
    case 'mode':
      isPointing = message.isPointing
      marker.hover(null)
      return isPointing ? undefined : marker.select([])
    case 'step':
      if (selected[0]) {
        const edits = editsOfStep(selected[0], message.step, shown.asItIs)
        if (edits.length > 0) send({ vetch: 'made', edits })
      }
      return
    case 'locate':
      return locateAll(message.paths)
  }
}
receive(take)

let hoveredTarget: EventTarget | null = null
addEventListener(
  'pointermove',
  (event) => {
    if (!isPointing || gestures.move(event) || event.target === hoveredTarget) return
    hoveredTarget = event.target
    const element = pointable(event.target)
    marker.hover(element, element ? nameOf(element).words : '')
  },
  true,
)

// While pointing, nothing on the page reacts: neither links nor forms nor the page's own scripts.
let wasGesture = false
for (const type of ['click', 'mousedown', 'mouseup', 'pointerdown', 'pointerup', 'submit', 'dblclick'] as const) {
  addEventListener(
    type,
    (event) => {
      if (!isPointing) return
      event.preventDefault()
      event.stopImmediatePropagation()
      if (event.type === 'pointerdown') wasGesture = gestures.press(event as PointerEvent)
      if (event.type === 'pointerup') wasGesture = gestures.release() || wasGesture
      const element = event.type === 'click' && !wasGesture ? pointable(event.target) : null
      if (!element) return
      if ((event as MouseEvent).shiftKey) toggle(element)
      else choose([element])
    },
    true,
  )
}
addEventListener('dragstart', (event) => isPointing && event.preventDefault(), true)
addEventListener('pointercancel', gestures.cancel)

addEventListener(
  'keydown',
  (event) => {
    const { key } = event
    if (!isPointing) return key === 'Escape' ? send({ vetch: 'pressed', key: 'escape' }) : undefined
    const command = commandOf(event)
    if (command) {
      event.preventDefault()
      if (command === 'escape') gestures.cancel()
      return send({ vetch: 'pressed', key: command })
    }
    if (event.altKey && selected[0] && (key === 'ArrowUp' || key === 'ArrowDown')) {
      event.preventDefault()
      return take({ vetch: 'step', step: key === 'ArrowUp' ? 'earlier' : 'later' })
    }
    if (event.ctrlKey || event.metaKey || event.altKey || !(isWalkKey(key) || key === 'Enter')) return
    event.preventDefault()
    event.stopImmediatePropagation()
    if (key === 'Enter') {
      if (walked) choose([walked])
      return
    }
    walked = walk(native(walked)?.isConnected ? walked : null, key) ?? walked
    if (!walked) return
    native(walked).scrollIntoView({ block: 'nearest' })
    const { words } = nameOf(walked)
    marker.hover(walked, words)
    send({ vetch: 'walked', words })
  },
  true,
)
addEventListener('scroll', marker.refresh, true)
addEventListener('resize', marker.refresh)

function commandOf({ key, ctrlKey, metaKey, shiftKey }: KeyboardEvent): 'escape' | 'undo' | 'redo' | 'delete' | null {
  if (key === 'Escape') return 'escape'
  if (key === 'Delete') return 'delete'
  if (!(ctrlKey || metaKey)) return null
  if (key.toLowerCase() === 'z') return shiftKey ? 'redo' : 'undo'
  return key.toLowerCase() === 'y' ? 'redo' : null
}

// A copy stands elsewhere than the page: rules for addresses ask about the page.
if (copiedPath !== undefined) {
  history.replaceState(null, '', new URL(copiedPath, location.href))
  addEventListener('click', (event) => {
    const link = event.target instanceof Element ? native(event.target).closest<HTMLAnchorElement>('a[href]') : null
    if (isPointing || !link || event.defaultPrevented) return
    event.preventDefault()
    const { pathname, search } = new URL(link.href)
    if (new URL(link.href).origin === new URL(nativeDocument.baseURI).origin)
      send({ vetch: 'followed', path: (pathname + search).slice(0, 2000) })
  })
}

const announce = () => send({ vetch: 'ready', address: location.href, title: nativeDocument.title })
if (nativeDocument.readyState === 'loading') addEventListener('DOMContentLoaded', announce)
else announce()
// A page that goes on by itself is another one: once it has drawn it, for what edits find there.
watchNavigation(() => requestAnimationFrame(announce))
