/** Place and size in CSS pixels, from the top left corner of the page. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** Red, green and blue from 0 to 255, and opacity from 0 to 1. */
export type Color = readonly [red: number, green: number, blue: number, opacity: number]

/** The text that an element holds itself, as it is drawn. */
export interface MeasuredText {
  /** Of the element; see `core/measurement/elementPath.ts`. */
  path: string
  text: string
  /** One a line, as far as it can be seen. */
  lines: Box[]
  /** Whether a part of it is hidden by the edge of a box. */
  isCut: boolean
  color: Color
  /** What it is drawn on; null on a picture. */
  background: Color | null
  /** Of the letters, in CSS pixels. */
  size: number
  isBold: boolean
}

export interface MeasuredImage {
  path: string
  box: Box
  address: string
}

/** A page as a browser laid it out. */
export interface MeasuredPage {
  /** Of the window. */
  width: number
  /** Of everything on the page: more than the window where it can be moved sideways. */
  contentWidth: number
  texts: MeasuredText[]
  /** Images that did not load. */
  brokenImages: MeasuredImage[]
  /** Elements that stick out to the right, without what is inside of them. */
  wide: { path: string; box: Box; text: string }[]
}
