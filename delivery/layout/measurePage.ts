import { laidOver } from '../../core/layout/contrast'
import type { Box, Color, MeasuredImage, MeasuredPage, MeasuredText } from '../../core/layout/measuredPage'
import { elementPath } from '../snippet/elementPath'
import { native, nativeDocument } from '../native'

const MOST_TEXTS = 1500
const MOST_LINES = 40
const LONGEST_TEXT = 80
const MOST_WIDE = 20
const WHITE: Color = [255, 255, 255, 1]
/** Pixels that a box may hide without a letter being cut. */
const SPARE = 3

/** How the page is laid out at this moment. */
export function measurePage(): MeasuredPage {
  const elements = [...native(nativeDocument.body).querySelectorAll('*')]
  return {
    width: native(nativeDocument.documentElement).clientWidth,
    contentWidth: native(nativeDocument.documentElement).scrollWidth,
    texts: elements.flatMap((element) => measuredText(element) ?? []).slice(0, MOST_TEXTS),
    brokenImages: elements.flatMap((element) => brokenImage(element) ?? []),
    wide: wideElements(elements),
  }
}

function measuredText(element: Element): MeasuredText | null {
  const nodes = [...native(element).childNodes].filter(
    (node) => native(node).nodeType === Node.TEXT_NODE && native(node).textContent?.trim(),
  )
  if (nodes.length === 0 || native(element).closest('svg, noscript, script, style, option')) return null
  const style = getComputedStyle(element)
  if (style.visibility !== 'visible' || !isOpaque(element)) return null
  const whole = nodes.flatMap(linesOf).slice(0, MOST_LINES)
  const seen = whole.map((line) => seenPart(line, element))
  const lines = seen.flatMap((part) => part ?? [])
  if (lines.length === 0) return null
  return {
    path: elementPath(element),
    text: nodes
      .map((node) => native(node).textContent)
      .join(' ')
      .replace(/\s+/g, ' ')
      .trim()
      .slice(0, LONGEST_TEXT),
    lines,
    isCut: whole.some((line, place) => isCut(line, seen[place] ?? null)) || endsInDots(element, style),
    color: colorOf(style.color),
    background: backgroundOf(element),
    size: parseFloat(style.fontSize),
    isBold: Number(style.fontWeight) >= 700,
  }
}

/** One box a line, on the page. */
function linesOf(node: Node): Box[] {
  const range = nativeDocument.createRange()
  range.selectNodeContents(node)
  return [...range.getClientRects()].filter(({ width, height }) => width > 1 && height > 1).map(onPage)
}

function onPage({ x, y, width, height }: DOMRect): Box {
  return {
    x: Math.round(x + scrollX),
    y: Math.round(y + scrollY),
    width: Math.round(width),
    height: Math.round(height),
  }
}

/** What of a line the boxes around it let through; null for nothing. */
function seenPart(line: Box, element: Element): Box | null {
  let [left, top, right, bottom] = [line.x, line.y, line.x + line.width, line.y + line.height]
  for (let box: Element | null = element; box && box !== nativeDocument.body; box = native(box).parentElement) {
    const { overflowX, overflowY, position } = getComputedStyle(box)
    const edges = onPage(native(box).getBoundingClientRect())
    if (overflowX !== 'visible') [left, right] = [Math.max(left, edges.x), Math.min(right, edges.x + edges.width)]
    if (overflowY !== 'visible') [top, bottom] = [Math.max(top, edges.y), Math.min(bottom, edges.y + edges.height)]
    if (position === 'fixed') break
  }
  return right - left > 1 && bottom - top > 1 ? { x: left, y: top, width: right - left, height: bottom - top } : null
}

/** A line that nothing is seen of may wait its turn; one of which a part is missing is cut. */
function isCut(line: Box, seen: Box | null): boolean {
  return seen !== null && (line.width - seen.width > SPARE || line.height - seen.height > SPARE)
}

function endsInDots(element: Element, { textOverflow, overflowX }: CSSStyleDeclaration): boolean {
  return (
    textOverflow === 'ellipsis' &&
    overflowX !== 'visible' &&
    native(element).scrollWidth > native(element).clientWidth + 1
  )
}

function isOpaque(element: Element): boolean {
  for (let each: Element | null = element; each; each = native(each).parentElement)
    if (Number(getComputedStyle(each).opacity) < 0.1) return false
  return true
}

/** The color behind an element: the nearest ones of the boxes around it, laid over one another; null on a picture. */
function backgroundOf(element: Element): Color | null {
  const layers: Color[] = []
  for (let each: Element | null = element; each; each = native(each).parentElement) {
    const { backgroundColor, backgroundImage } = getComputedStyle(each)
    if (backgroundImage !== 'none') return null
    const color = colorOf(backgroundColor)
    layers.unshift(color)
    if (color[3] === 1) break
  }
  return layers.reduce((under, over) => laidOver(over, under), WHITE)
}

const canvas = nativeDocument.createElement('canvas').getContext('2d', { willReadFrequently: true })!
const known = new Map<string, Color>()

/** Any color that CSS can say, as it is drawn. */
function colorOf(css: string): Color {
  const before = known.get(css)
  if (before) return before
  canvas.clearRect(0, 0, 1, 1)
  canvas.fillStyle = '#000'
  canvas.fillStyle = css
  canvas.fillRect(0, 0, 1, 1)
  const [red = 0, green = 0, blue = 0, alpha = 0] = canvas.getImageData(0, 0, 1, 1).data
  const color: Color = [red, green, blue, alpha / 255]
  known.set(css, color)
  return color
}

function brokenImage(element: Element): MeasuredImage | null {
  if (!(element instanceof HTMLImageElement) || !element.getAttribute('src')) return null
  const box = onPage(element.getBoundingClientRect())
  if (!element.complete || element.naturalWidth > 0 || getComputedStyle(element).display === 'none') return null
  return {
    path: elementPath(element),
    box: { ...box, width: Math.max(box.width, 16), height: Math.max(box.height, 16) },
    address: element.currentSrc || element.src,
  }
}

/** Elements that reach beyond the right edge of the window though what holds them does not. */
function wideElements(elements: readonly Element[]): MeasuredPage['wide'] {
  const edge = native(nativeDocument.documentElement).clientWidth + 1
  if (native(nativeDocument.documentElement).scrollWidth <= edge) return []
  const right = (element: Element) => native(element).getBoundingClientRect().right + scrollX
  return elements
    .filter((element) => {
      const parent = native(element).parentElement
      const style = getComputedStyle(element)
      return (
        right(element) > edge &&
        (!parent || right(parent) <= edge) &&
        style.display !== 'none' &&
        style.position !== 'fixed'
      )
    })
    .slice(0, MOST_WIDE)
    .map((element) => ({
      path: elementPath(element),
      box: onPage(native(element).getBoundingClientRect()),
      text:
        native(element as HTMLElement)
          .innerText?.replace(/\s+/g, ' ')
          .trim()
          .slice(0, LONGEST_TEXT) ?? '',
    }))
}
