import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { chooseForQuarter, type QuarterTerms, type TestableIdea } from './quarter'

const idea = (id: number, weeks: number, worth: number, pages = ['/book'], effortDays = 1): TestableIdea => ({
  id,
  weeks,
  worth,
  pages,
  effortDays,
})
const QUARTER: QuarterTerms = { weeks: 13, effortDays: null, taken: [] }
const idsOf = ({ planned }: { planned: { id: number }[] }) => planned.map(({ id }) => id).sort((a, b) => a - b)

/** Whether tests collide, or leave the weeks. */
function isPossible(
  ideas: readonly TestableIdea[],
  starts: readonly number[],
  { weeks, taken }: QuarterTerms,
): boolean {
  const used = new Set(taken.flatMap(({ page, from, until }) => range(from, until).map((week) => `${page} ${week}`)))
  for (const [index, { weeks: long, pages }] of ideas.entries()) {
    const start = starts[index]!
    if (start < 0 || start + long > weeks) return false
    for (const page of pages)
      for (const week of range(start, start + long)) {
        if (used.has(`${page} ${week}`)) return false
        used.add(`${page} ${week}`)
      }
  }
  return true
}
const range = (from: number, until: number) => Array.from({ length: until - from }, (_, index) => from + index)

/** The most that any choice is worth, by trying all of them with all beginnings. */
function triedWorth(ideas: readonly TestableIdea[], terms: QuarterTerms): number {
  let best = 0
  for (let subset = 0; subset < 1 << ideas.length; subset++) {
    const chosen = ideas.filter((_, index) => (subset >> index) & 1)
    const worth = chosen.reduce((sum, each) => sum + each.worth, 0)
    const effort = chosen.reduce((sum, each) => sum + each.effortDays, 0)
    if (worth <= best || (terms.effortDays !== null && effort > terms.effortDays)) continue
    const place = (starts: number[]): boolean =>
      isPossible(chosen.slice(0, starts.length), starts, terms) &&
      (starts.length === chosen.length || range(0, terms.weeks).some((start) => place([...starts, start])))
    if (place([])) best = worth
  }
  return best
}

describe('by hand', () => {
  test('the dearest idea is left out where two others fit in its place and are worth more', () => {
    const chosen = chooseForQuarter([idea(1, 10, 100), idea(2, 6, 60), idea(3, 7, 55)], QUARTER)
    expect([idsOf(chosen), chosen.worth, chosen.bound, chosen.isBest]).toEqual([[2, 3], 115, 115, true])
  })

  test('tests of different pages run beside each other, tests of one after the other', () => {
    const { planned } = chooseForQuarter([idea(1, 13, 10), idea(2, 6, 5, ['/']), idea(3, 7, 5, ['/'])], QUARTER)
    expect(planned.find(({ id }) => id === 1)).toEqual({ id: 1, start: 0 })
    expect(
      isPossible(
        [idea(2, 6, 5), idea(3, 7, 5)],
        planned.filter(({ id }) => id > 1).map(({ start }) => start),
        QUARTER,
      ),
    ).toBe(true)
  })

  test('a page that a running test has is free after it', () => {
    const terms = { ...QUARTER, taken: [{ page: '/book', from: 0, until: 4 }] }
    expect(chooseForQuarter([idea(1, 9, 1)], terms).planned).toEqual([{ id: 1, start: 4 }])
    expect(chooseForQuarter([idea(1, 10, 1)], terms).planned).toEqual([])
  })

  test('no more effort than there is; an idea without effort always fits', () => {
    const ideas = [
      idea(1, 2, 9, ['/a'], 6),
      idea(2, 2, 6, ['/b'], 3),
      idea(3, 2, 6, ['/c'], 3),
      idea(4, 2, 1, ['/d'], 0),
    ]
    expect(idsOf(chooseForQuarter(ideas, { ...QUARTER, effortDays: 6 }))).toEqual([2, 3, 4])
  })

  test('what is worth nothing, has no pages or takes longer than there is, is never chosen', () => {
    const ideas = [idea(1, 2, 0), idea(2, 2, -5), idea(3, 14, 50), idea(4, 2, 5, [])]
    expect(chooseForQuarter(ideas, QUARTER)).toEqual({ planned: [], worth: 0, bound: 0, isBest: true })
  })

  test('a plan of no weeks is refused', () =>
    expect(() => chooseForQuarter([], { ...QUARTER, weeks: 0 })).toThrow(/1 to 30/))
})

test('it is the best of all choices with all beginnings, and possible', () => {
  const pages = fc.uniqueArray(fc.constantFrom('/a', '/b', '/c'), { minLength: 1, maxLength: 3 })
  const anIdea = fc.record({
    weeks: fc.integer({ min: 1, max: 4 }),
    worth: fc.integer({ min: 1, max: 20 }),
    effortDays: fc.integer({ min: 0, max: 5 }),
    pages,
  })
  const taken = fc.array(
    fc.record({
      page: fc.constantFrom('/a', '/b'),
      from: fc.integer({ min: 0, max: 3 }),
      length: fc.integer({ min: 1, max: 3 }),
    }),
    { maxLength: 1 },
  )
  fc.assert(
    fc.property(
      fc.array(anIdea, { maxLength: 6 }),
      fc.integer({ min: 3, max: 6 }),
      fc.option(fc.integer({ min: 0, max: 12 })),
      taken,
      (drawn, weeks, effortDays, busy) => {
        const ideas = drawn.map((each, index) => ({ ...each, id: index + 1 }))
        const terms = {
          weeks,
          effortDays,
          taken: busy.map(({ page, from, length }) => ({ page, from, until: Math.min(weeks, from + length) })),
        }
        const choice = chooseForQuarter(ideas, terms)
        const chosen = choice.planned.map(({ id }) => ideas.find((each) => each.id === id)!)
        expect(
          isPossible(
            chosen,
            choice.planned.map(({ start }) => start),
            terms,
          ),
        ).toBe(true)
        expect(chosen.reduce((sum, { worth }) => sum + worth, 0)).toBe(choice.worth)
        expect(choice.isBest).toBe(true)
        expect(choice.worth).toBe(triedWorth(ideas, terms))
      },
    ),
    { numRuns: 150, seed: 3 },
  )
})

test('of hundreds of ideas a choice comes with what no choice can exceed', () => {
  const ideas = range(1, 301).map((id) =>
    idea(
      id,
      2 + (id % 5),
      10 + ((id * 37) % 91),
      [...new Set([`/page-${id % 12}`, `/page-${(id * 7) % 12}`])],
      1 + (id % 4),
    ),
  )
  const choice = chooseForQuarter(ideas, { ...QUARTER, effortDays: 60 })
  expect(choice.worth).toBeGreaterThan(0)
  expect(choice.bound).toBeGreaterThanOrEqual(choice.worth)
  expect(choice.bound).toBeLessThan(choice.worth * 1.6)
  const chosen = choice.planned.map(({ id }) => ideas[id - 1]!)
  expect(
    isPossible(
      chosen,
      choice.planned.map(({ start }) => start),
      QUARTER,
    ),
  ).toBe(true)
})
