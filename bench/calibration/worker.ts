import { drawsFrom } from '../../core/random/draws'
import { seededUniform } from '../../core/random/seededUniform'
import { CHECKS } from './checks'

/** One portion of the runs of one check. */
export interface Portion {
  check: number
  seed: number
  runs: number
}

process.on('message', ({ check, seed, runs }: Portion) => {
  const draws = drawsFrom(seededUniform(seed))
  let happened = 0
  for (let run = 0; run < runs; run++) happened += CHECKS[check]!.simulate(draws)
  process.send!(happened)
})
