import { expect, test } from 'vitest'
import { symmetricDomain } from './readings'

test.each<[string, number[], number, number]>([
  ['nothing yet', [], 0.1, 0.1],
  ['much alike', [0.1, 0.12, 0.2], 0.1, 0.23],
  ['one far wider than the others', [0.1, 0.12, 0.12, 0.1, 5, 5], 0.1, 0.36],
  ['all of them wide', [4, 5], 0.1, 5.75],
])('the scale of tracks: %s', (_, ends, least, widest) => {
  const [low, high] = symmetricDomain(ends, least)
  expect([-low, high].map((end) => Number(end.toFixed(6)))).toEqual([widest, widest])
})
