import { drawsFrom } from '../../core/random/draws'
import { seededUniform } from '../../core/random/seededUniform'
import { CHECKS } from './checks'

/** One portion of the runs of one check. */
export interface Portion {
  check: number
  seed: number
  runs: number
}

/** What came of the runs of a portion. */
export interface Simulated {
  sum: number
  squares: number
}

process.on('message', ({ check, seed, runs }: Portion) => {
  const draws = drawsFrom(seededUniform(seed))
  const simulated: Simulated = { sum: 0, squares: 0 }
  for (let run = 0; run < runs; run++) {
    const value = CHECKS[check]!.simulate(draws)
    simulated.sum += value
    simulated.squares += value * value
  }
  process.send!(simulated)
})
