import { expect, test } from 'vitest'
import { contrast, neededContrast } from './contrast'
import { layoutProblems } from './layoutProblems'
import type { MeasuredPage, MeasuredText } from './measuredPage'

const text = (path: string, more: Partial<MeasuredText> = {}): MeasuredText => ({
  path,
  text: `Text of ${path}`,
  lines: [{ x: 0, y: 0, width: 100, height: 20 }],
  isCut: false,
  color: [0, 0, 0, 1],
  background: [255, 255, 255, 1],
  size: 16,
  isBold: false,
  ...more,
})
const page = (texts: MeasuredText[], more: Partial<MeasuredPage> = {}): MeasuredPage => ({
  width: 390,
  contentWidth: 390,
  texts,
  brokenImages: [],
  wide: [],
  ...more,
})
const at = (y: number, height = 20, x = 0) => [{ x, y, width: 100, height }]
const told = (variant: MeasuredPage, control: MeasuredPage | null = null) =>
  layoutProblems(variant, control).map(({ kind, text: said }) => `${kind}: ${said}`)

test('contrast is that of the guidelines, with translucent letters as they look', () => {
  expect(contrast([0, 0, 0, 1], [255, 255, 255, 1])).toBeCloseTo(21, 10)
  expect(contrast([119, 119, 119, 1], [255, 255, 255, 1])).toBeCloseTo(4.478, 3)
  expect(contrast([0, 0, 0, 0.5], [255, 255, 255, 1])).toBeCloseTo(
    contrast([127.5, 127.5, 127.5, 1], [255, 255, 255, 1]),
    10,
  )
  expect(neededContrast({ size: 24, isBold: false })).toBe(3)
  expect(neededContrast({ size: 19, isBold: true })).toBe(3)
  expect(neededContrast({ size: 23, isBold: false })).toBe(4.5)
})

test('texts that lie over each other are told once, those that only touch are not', () => {
  const stacked = page([text('h1', { lines: at(0) }), text('p', { lines: at(18) }), text('b', { lines: at(200) })])
  expect(told(stacked)).toEqual([])
  const over = page([text('h1', { lines: [...at(0), ...at(22)] }), text('p', { lines: [...at(8), ...at(26)] })])
  expect(told(over)).toEqual(['overlap: “Text of h1” and “Text of p” lie over each other.'])
  expect(layoutProblems(over, null)[0]!.box).toEqual({ x: 0, y: 0, width: 100, height: 28 })
  expect(told(over, over)).toEqual([])
  expect(told(page([text('h1', { lines: at(0) }), text('p', { lines: at(5, 20, 101) })]))).toEqual([])
})

test('what sticks out sideways is named, unless it does in the control', () => {
  const wide = [{ path: 'table', box: { x: 0, y: 40, width: 500, height: 60 }, text: 'Adult € 9.50' }]
  const variant = page([], { contentWidth: 500, wide })
  expect(told(variant)).toEqual([
    'overflow: The page is 500 pixels wide in a window of 390: “Adult € 9.50” sticks out.',
  ])
  expect(told(variant, page([], { contentWidth: 500, wide }))).toEqual([])
  expect(told(page([], { contentWidth: 500 }), page([]))).toEqual([
    'overflow: The page is 500 pixels wide in a window of 390.',
  ])
})

test('cut texts and pictures that do not load are told where the control has them whole', () => {
  const variant = page([text('a', { isCut: true }), text('b', { isCut: true, lines: at(50) })], {
    brokenImages: [{ path: 'img', box: { x: 0, y: 0, width: 16, height: 16 }, address: 'https://a.test/pier.png' }],
  })
  const control = page([text('a', { isCut: true }), text('b', { lines: at(50) })])
  expect(told(variant, control)).toEqual([
    'cut: “Text of b” is cut off.',
    'image: The picture https://a.test/pier.png does not load.',
  ])
  expect(told(variant, variant)).toEqual([])
})

test('contrast is told where it is too low and lower than in the control', () => {
  const pale = text('a', { color: [170, 170, 170, 1] })
  expect(told(page([pale]), page([text('a')]))).toEqual([
    'contrast: “Text of a” has a contrast of 2.3 to 1, in the control 21.0; at least 4.5 can be read well.',
  ])
  expect(told(page([pale]), page([pale]))).toEqual([])
  expect(told(page([pale]), page([text('a', { color: [180, 180, 180, 1] })]))).toEqual([])
  expect(told(page([{ ...pale, background: null }]), page([text('a')]))).toEqual([])
  expect(told(page([text('a', { color: [110, 110, 110, 1] })]), page([text('a')]))).toEqual([])
  // New in the variant.
  expect(told(page([pale]), page([]))).toHaveLength(1)
})
