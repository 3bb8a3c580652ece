/** Draws frames around the element under the pointer and the selected one, out of reach of the page's styles. */
export function createMarker() {
  const host = document.createElement('vetch-marker')
  const root = host.attachShadow({ mode: 'closed' })
  const hovered = frame('2px dashed #8a1c5c')
  const selected = frame('3px solid #8a1c5c')
  let hoveredElement: Element | null = null
  let selectedElement: Element | null = null
  host.style.cssText = 'all:initial;position:fixed;inset:0;pointer-events:none;z-index:2147483647'
  root.append(hovered, selected)
  document.documentElement.append(host)

  function frame(border: string): HTMLElement {
    const box = document.createElement('div')
    box.style.cssText = `position:fixed;box-sizing:border-box;border:${border};border-radius:3px;display:none;outline:2px solid #ffffff99`
    return box
  }

  function draw(box: HTMLElement, element: Element | null): void {
    box.style.display = element?.isConnected ? 'block' : 'none'
    if (!element) return
    const { x, y, width, height } = element.getBoundingClientRect()
    Object.assign(box.style, {
      left: `${x - 4}px`,
      top: `${y - 4}px`,
      width: `${width + 8}px`,
      height: `${height + 8}px`,
    })
  }

  function refresh(): void {
    draw(hovered, hoveredElement === selectedElement ? null : hoveredElement)
    draw(selected, selectedElement)
  }

  return {
    refresh,
    owns: (element: Element) => element === host,
    hover(element: Element | null) {
      hoveredElement = element
      refresh()
    },
    select(element: Element | null) {
      selectedElement = element
      refresh()
    },
  }
}
