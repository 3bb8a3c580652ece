import { assign } from '../core/assignment/assignment'
import { murmurHash3 } from '../core/assignment/murmurHash3'
import { medianMilliseconds, rounded, sized, type Measurement } from './measurement'

const TIMES = sized(500_000, 5000)
const RUNS = sized(7, 1)

/** Assignments a second, against one bare hash of the same text each. */
export async function measureAssign(): Promise<Measurement[]> {
  const visitors = Array.from({ length: 1000 }, (_, index) => `visitor-${index}-0123456789`)
  const plan = { salt: 'bench-salt', share: 10_000, weights: [1, 1] }
  let sink = 0
  const assigning = () => {
    for (let index = 0; index < TIMES; index++) sink += assign(visitors[index % 1000]!, plan)!
  }
  const hashing = () => {
    for (let index = 0; index < TIMES; index++) sink += murmurHash3(`${plan.salt}.${visitors[index % 1000]!}`, 1)
  }
  assigning()
  hashing()
  const perSecond = (TIMES / (await medianMilliseconds(RUNS, assigning))) * 1000
  const hashes = (TIMES / (await medianMilliseconds(RUNS, hashing))) * 1000
  if (Number.isNaN(sink)) throw new Error('An assignment was missing.')
  return [
    {
      name: 'assign',
      value: Math.round(perSecond),
      unit: 'assignments/s',
      reference: { what: 'bare hash of the same text', value: Math.round(hashes), ratio: rounded(perSecond / hashes) },
      aim: 'ratio at least 0.4',
    },
  ]
}
