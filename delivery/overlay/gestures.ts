import type { MadeOnPage } from '../../shared/edits/pointing'
import { dropAt, editsOfDrop, type Drop } from './arrange'
import { targetOf } from './describe'
import type { Handle, Marker } from './marker'
import { native } from '../native'

/** How far the pointer goes before it drags, in CSS pixels. */
const THRESHOLD = 6
const SMALLEST = 8
const SCROLL_EDGE = 40
const SCROLL_STEP = 14

interface Gestures {
  /** @returns whether a gesture of its own has begun */
  press: (event: PointerEvent) => boolean
  move: (event: PointerEvent) => boolean
  /** @returns whether what has ended was a gesture, and not a click */
  release: () => boolean
  cancel: () => void
}

/** Dragging of what is selected to another place, and of its handles to another size. */
export function createGestures(
  marker: Marker,
  selected: () => readonly Element[],
  asItIs: <Result>(look: () => Result) => Result,
  made: (edits: MadeOnPage[]) => void,
): Gestures {
  let drag: { x: number; y: number; isMoving: boolean; drop: Drop | null } | null = null
  let resize: {
    element: HTMLElement
    handle: Handle
    box: DOMRect
    style: string | null
    x: number
    y: number
  } | null = null

  function press({ clientX: x, clientY: y, target }: PointerEvent): boolean {
    const handle = marker.handleAt(x, y)
    const [element] = selected()
    if (handle && element instanceof HTMLElement) {
      resize = {
        element,
        handle,
        box: native(element).getBoundingClientRect(),
        style: native(element).getAttribute('style'),
        x,
        y,
      }
      return true
    }
    if (target instanceof Element && selected().some((each) => native(each).contains(target)))
      drag = { x, y, isMoving: false, drop: null }
    return false
  }

  function sizeAt({ clientX, clientY }: PointerEvent): Record<string, string> {
    const { handle, box, x, y } = resize!
    const width = `${Math.round(Math.max(SMALLEST, box.width + clientX - x))}px`
    const height = `${Math.round(Math.max(SMALLEST, box.height + clientY - y))}px`
    return { ...(handle === 'bottom' ? {} : { width }), ...(handle === 'right' ? {} : { height }) }
  }

  /** A width that is dragged stays within narrower windows, and counts from edge to edge as the handle does. */
  function withinWindow(size: Record<string, string>, element: Element): Record<string, string> {
    if (!size.width) return size
    const isByContent = getComputedStyle(element).boxSizing === 'content-box'
    return { ...size, 'max-width': '100%', ...(isByContent ? { 'box-sizing': 'border-box' } : {}) }
  }

  let size: Record<string, string> = {}
  function move(event: PointerEvent): boolean {
    if (resize) {
      size = withinWindow(sizeAt(event), resize.element)
      for (const [name, value] of Object.entries(size))
        native(resize.element).style.setProperty(name, value, 'important')
      marker.refresh()
      return true
    }
    if (!drag) return false
    const { clientX: x, clientY: y } = event
    if (!drag.isMoving && Math.hypot(x - drag.x, y - drag.y) < THRESHOLD) return false
    drag.isMoving = true
    drag.drop = dropAt(x, y, selected())
    marker.hover(null)
    marker.markDrop(drag.drop?.mark ?? null)
    if (y < SCROLL_EDGE) scrollBy(0, -SCROLL_STEP)
    if (y > innerHeight - SCROLL_EDGE) scrollBy(0, SCROLL_STEP)
    return true
  }

  function release(): boolean {
    if (resize) {
      const { element } = resize
      const wanted = size
      cancel()
      if (Object.keys(wanted).length > 0) {
        const edit = asItIs((): MadeOnPage => {
          const style = getComputedStyle(element)
          const names = Object.keys(wanted)
          const original = Object.fromEntries(names.map((name) => [name, style.getPropertyValue(name)]))
          return { kind: 'style', ...targetOf(element), value: wanted, original }
        })
        made([edit])
      }
      return true
    }
    const ended = drag
    cancel()
    if (!ended?.isMoving) return false
    if (ended.drop) made(editsOfDrop(selected(), ended.drop, asItIs))
    return true
  }

  function cancel(): void {
    if (resize) {
      const { element, style } = resize
      if (style === null) native(element).removeAttribute('style')
      else native(element).setAttribute('style', style)
    }
    resize = null
    size = {}
    drag = null
    marker.markDrop(null)
    marker.refresh()
  }

  return { press, move, release, cancel }
}
