import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { sharedTails } from './tail'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

/** Counts how often it is asked, and fails once. */
function counting() {
  let asked = 0
  const follow = () => async () => {
    if (++asked === 2) throw new Error('once')
    return [asked]
  }
  return { follow, asked: () => asked }
}

test('what belongs to a key is asked for once, however many listen, and no more once nobody does', async () => {
  const errors: unknown[] = []
  const listen = sharedTails<number>(1000, (error) => errors.push(error))
  const { follow, asked } = counting()
  const heard: number[][] = [[], [], []]
  const ends = heard.map((own) => listen('a', follow, (news) => own.push(...news)))
  const other = counting()
  ends.push(listen('b', other.follow, () => {}))
  await vi.advanceTimersByTimeAsync(2500)
  expect([asked(), other.asked()]).toEqual([3, 3])
  // The second time it failed, and it was asked again.
  expect(errors).toHaveLength(2)
  expect(heard).toEqual([
    [1, 3],
    [1, 3],
    [1, 3],
  ])
  ends[0]!()
  await vi.advanceTimersByTimeAsync(1000)
  expect(heard.map((own) => own.length)).toEqual([2, 3, 3])
  ends.forEach((end) => end())
  await vi.advanceTimersByTimeAsync(5000)
  expect(asked()).toBe(4)
})
