import { contours } from 'd3-contour'
import { clickDensity, contourLevels, type PlacedBox } from '~~/core/evidence/clickDensity'
import type { ClickedElement } from '~~/core/evidence/clickMap'

/** What is drawn: clicks by element, where the elements stand, and in which color. */
export interface HeatmapTask {
  number: number
  elements: Pick<ClickedElement, 'cells'>[]
  boxes: (PlacedBox | null)[]
  page: { width: number; height: number }
  /** Any color that CSS knows. */
  color: string
}
export interface HeatmapPicture {
  number: number
  picture: ImageBitmap
}

const LEVELS = 7
/** Larger pages are drawn smaller and stretched: browsers bound the size of a canvas. */
const TALLEST = 8000

addEventListener('message', ({ data }: MessageEvent<HeatmapTask>) => {
  const { number, elements, boxes, page, color } = data
  const density = clickDensity(elements, boxes, page)
  const scale = Math.min(1, TALLEST / Math.max(1, page.height))
  const canvas = new OffscreenCanvas(Math.max(1, page.width * scale), Math.max(1, page.height * scale))
  const context = canvas.getContext('2d')!
  context.scale(scale, scale)
  const rings = contours().size([density.columns, density.rows])
  contourLevels(density, LEVELS).forEach((level, index) => {
    const { coordinates } = rings.contour([...density.values], level)
    context.beginPath()
    for (const polygon of coordinates)
      for (const ring of polygon) {
        ring.forEach(([x, y], point) => {
          const place = [x! * density.cell, y! * density.cell] as const
          if (point === 0) context.moveTo(...place)
          else context.lineTo(...place)
        })
        context.closePath()
      }
    context.globalAlpha = 0.1 + 0.05 * index
    context.fillStyle = color
    context.fill()
    context.globalAlpha = 0.55
    context.strokeStyle = color
    context.lineWidth = 0.75
    context.stroke()
  })
  const picture = canvas.transferToImageBitmap()
  const reply: HeatmapPicture = { number, picture }
  postMessage(reply, { transfer: [picture] })
})
