import { expect, test } from 'vitest'
import { describeWidths, isWithin, mediaOfWidths, separateByWidth, widthsProblem, type Widths } from './widths'

interface Said {
  says: string
  widths?: Widths | null
}
const both = (one: Said, other: Said): Said => ({ ...other, says: `${one.says}+${other.says}` })
const later = (_one: Said, other: Said) => other

test('what holds for some widths takes those from what holds for all, whichever is named first', () => {
  const everywhere: Said = { says: 'long' }
  const phones: Said = { says: 'short', widths: { from: null, below: 640 } }
  const apart = [
    { says: 'short', widths: { from: null, below: 640 } },
    { says: 'long', widths: { from: 640, below: null } },
  ]
  expect(separateByWidth([everywhere, phones], later)).toEqual(apart)
  expect(separateByWidth([phones, everywhere], later)).toEqual(apart)
})

test('each width has what its own edits say together, and nothing where none holds', () => {
  const ranged: Said[] = [
    { says: 'a', widths: { from: 300, below: 900 } },
    { says: 'b', widths: { from: 600, below: 1200 } },
  ]
  const apart = separateByWidth(ranged, both)
  expect(apart).toEqual([
    { says: 'a', widths: { from: 300, below: 600 } },
    { says: 'a+b', widths: { from: 600, below: 900 } },
    { says: 'b', widths: { from: 900, below: 1200 } },
  ])
  for (let width = 1; width < 1400; width++) {
    const holding = ranged.filter(({ widths }) => isWithin(widths!, width)).map(({ says }) => says)
    const found = apart.filter(({ widths }) => isWithin(widths!, width)).map(({ says }) => says)
    expect(found, `${width} px`).toEqual(holding.length > 0 ? [holding.join('+')] : [])
  }
})

test('widths that no window has are refused with what to do; others are said and asked as browsers do', () => {
  expect(widthsProblem({ from: 800, below: 640 })).toMatch(/No window is from 800 px and below 640 px/)
  expect(widthsProblem({ from: null, below: null })).toMatch(/choose all widths/)
  expect(widthsProblem({ from: 1.5, below: null })).toMatch(/whole number/)
  expect(widthsProblem({ from: null, below: 640 })).toBe(null)
  expect(describeWidths({ from: 640, below: 1024 })).toBe('from 640 to 1,023 px')
  expect(mediaOfWidths({ from: 640, below: 1024 })).toBe('(min-width:640px) and (max-width:1023.98px)')
  expect(mediaOfWidths({ from: null, below: 640 })).toBe('(max-width:639.98px)')
})
