import { native, nativeDocument } from '../native'

const HOVERED = '2px dashed #8a1c5c'
const SELECTED = '3px solid #8a1c5c'
const SPACE = 4

export type Handle = 'right' | 'bottom' | 'corner'

/** Where something would be dropped: along an edge of a box, or inside of it. */
export interface DropMark {
  box: DOMRect
  edge: 'top' | 'bottom' | 'left' | 'right' | 'inside'
}

export interface Marker {
  refresh: () => void
  owns: (element: Element) => boolean
  hover: (element: Element | null, words?: string) => void
  select: (elements: readonly Element[]) => void
  markDrop: (mark: DropMark | null) => void
  /** Which handle of the selected element lies at a point of the window. */
  handleAt: (x: number, y: number) => Handle | null
}

/** Draws over the page while somebody points at it, out of reach of the page's styles. */
export function createMarker(): Marker {
  const host = nativeDocument.createElement('vetch-marker')
  const root = native(host).attachShadow({ mode: 'closed' })
  const hovered = frame(HOVERED)
  const label = element(
    'position:fixed;max-width:60vw;overflow:hidden;text-overflow:ellipsis;white-space:nowrap;background:#8a1c5c;color:#fff;font:500 12px/1.4 system-ui,sans-serif;padding:1px 6px;border-radius:3px;display:none',
  )
  const drop = element('position:fixed;background:#8a1c5c;border-radius:2px;display:none')
  const handles: Record<Handle, HTMLElement> = { right: handle(), bottom: handle(), corner: handle() }
  let selectedFrames: HTMLElement[] = []
  let hoveredElement: Element | null = null
  let selected: readonly Element[] = []
  let waiting = 0
  native(host).style.cssText = 'all:initial;position:fixed;inset:0;pointer-events:none;z-index:2147483647'
  root.append(hovered, label, drop, ...Object.values(handles))
  native(nativeDocument.documentElement).append(host)

  function element(style: string): HTMLElement {
    const made = nativeDocument.createElement('div')
    made.style.cssText = style
    return made
  }
  function frame(border: string): HTMLElement {
    return element(
      `position:fixed;box-sizing:border-box;border:${border};border-radius:3px;display:none;outline:2px solid #ffffff99`,
    )
  }
  function handle(): HTMLElement {
    return element(
      'position:fixed;width:10px;height:10px;box-sizing:border-box;background:#fff;border:2px solid #8a1c5c;border-radius:2px;display:none',
    )
  }

  function draw(box: HTMLElement, around: Element | null): void {
    native(box).style.display = native(around)?.isConnected ? 'block' : 'none'
    if (around) put(box, native(around).getBoundingClientRect())
  }
  function put(box: HTMLElement, { x, y, width, height }: DOMRect): void {
    Object.assign(native(box).style, {
      left: `${x - SPACE}px`,
      top: `${y - SPACE}px`,
      width: `${width + 2 * SPACE}px`,
      height: `${height + 2 * SPACE}px`,
    })
  }

  function drawAll(): void {
    waiting = 0
    const isOther = hoveredElement !== null && !selected.includes(hoveredElement)
    draw(hovered, isOther ? hoveredElement : null)
    native(label).style.display = isOther && native(label).textContent ? 'block' : 'none'
    if (isOther) {
      const { x, y, bottom } = native(hoveredElement!).getBoundingClientRect()
      Object.assign(native(label).style, {
        left: `${Math.max(0, x - SPACE)}px`,
        top: `${y > 26 ? y - 26 : bottom + 6}px`,
      })
    }
    selected.forEach((each, place) => draw(selectedFrames[place]!, each))
    const only =
      selected.length === 1 && native(selected[0]!).isConnected ? native(selected[0]!).getBoundingClientRect() : null
    for (const box of Object.values(handles)) native(box).style.display = only ? 'block' : 'none'
    if (!only) return
    at(handles.right, only.right, only.top + only.height / 2)
    at(handles.bottom, only.left + only.width / 2, only.bottom)
    at(handles.corner, only.right, only.bottom)
  }
  function at(box: HTMLElement, x: number, y: number): void {
    Object.assign(native(box).style, { left: `${x - 5 + SPACE}px`, top: `${y - 5 + SPACE}px` })
  }

  return {
    /** However often it is asked for, it draws once a frame. */
    refresh: () => void (waiting ||= requestAnimationFrame(drawAll)),
    owns: (each) => each === host,
    hover(each, words = '') {
      if (each === hoveredElement) return
      hoveredElement = each
      native(label).textContent = words
      drawAll()
    },
    select(elements) {
      for (const box of selectedFrames) native(box).remove()
      selected = elements
      selectedFrames = elements.map(() => frame(SELECTED))
      root.prepend(...selectedFrames)
      drawAll()
    },
    markDrop(mark) {
      native(drop).style.display = mark ? 'block' : 'none'
      if (!mark) return
      const { x, y, width, height, right, bottom } = mark.box
      const line = {
        top: [x, y - 2, width, 4],
        bottom: [x, bottom - 2, width, 4],
        left: [x - 2, y, 4, height],
        right: [right - 2, y, 4, height],
        inside: [x, y, width, height],
      }[mark.edge]
      native(drop).style.opacity = mark.edge === 'inside' ? '0.25' : '1'
      ;(['left', 'top', 'width', 'height'] as const).forEach(
        (name, place) => (native(drop).style[name] = `${line[place]}px`),
      )
    },
    handleAt(x, y) {
      for (const [name, box] of Object.entries(handles)) {
        if (native(box).style.display === 'none') continue
        const { left, right, top, bottom } = native(box).getBoundingClientRect()
        if (x >= left - 3 && x <= right + 3 && y >= top - 3 && y <= bottom + 3) return name as Handle
      }
      return null
    },
  }
}
