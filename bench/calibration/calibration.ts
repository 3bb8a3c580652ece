import { fork } from 'node:child_process'
import { once } from 'node:events'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { createProgress } from '../../cli/progress'
import { rounded, sized, type Measurement } from '../measurement'
import { CHECKS } from './checks'
import type { Portion, Simulated } from './worker'

const PORTIONS = sized(8, 1)
const RUNS_OF_QUICK = 4

/**
 * Simulates what the statistics claim about their errors: seeded, in as many processes as there are processors.
 *
 * @returns one line a claim, with the share that came out, the nominal one and the Monte Carlo error
 */
export async function measureCalibration(): Promise<Measurement[]> {
  const progress = createProgress('Simulating')
  const happened = CHECKS.map((): Simulated => ({ sum: 0, squares: 0 }))
  const portions: Portion[] = CHECKS.flatMap(({ runs }, check) =>
    Array.from({ length: PORTIONS }, (_, portion) => ({
      check,
      seed: check * PORTIONS + portion + 1,
      runs: sized(Math.ceil(runs / PORTIONS), RUNS_OF_QUICK),
    })),
  )
  let next = 0
  await Promise.all(
    Array.from({ length: availableParallelism() }, async () => {
      // A process, not a thread: the loader of TypeScript does not reach into threads on Node 20.
      const worker = fork(fileURLToPath(new URL('./worker.ts', import.meta.url)), { execArgv: ['--import', 'tsx'] })
      while (next < portions.length) {
        const portion = portions[next++]!
        worker.send(portion)
        const [simulated] = (await once(worker, 'message')) as [Simulated]
        happened[portion.check]!.sum += simulated.sum
        happened[portion.check]!.squares += simulated.squares
        progress.show(next / portions.length)
      }
      worker.kill()
    }),
  )
  progress.clear()
  return CHECKS.map(({ name, nominal, bound, atLeast, isMean, tolerance = 0, runs: wanted }, index) => {
    const runs = sized(Math.ceil(wanted / PORTIONS) * PORTIONS, RUNS_OF_QUICK)
    const { sum, squares } = happened[index]!
    const share = sum / runs
    const variance = isMean ? Math.max(0, squares / runs - share * share) : nominal * (1 - nominal)
    const error = Math.sqrt(variance / runs)
    const slack = 4 * error + tolerance
    const [isLow, isHigh] = [
      share < (bound === 'at most' ? (atLeast ?? -Infinity) : nominal) - slack,
      share > nominal + slack,
    ]
    return {
      name: 'calibration',
      value: rounded(share),
      unit: isMean ? 'on average' : 'share of runs',
      reference: { what: `nominal, ${bound}`, value: nominal, ratio: rounded(share / nominal) },
      details: {
        claim: name,
        runs,
        monteCarloError: rounded(error, 2),
        ...(atLeast === undefined ? {} : { atLeast }),
        holds: !isLow && (bound === 'at least' || !isHigh),
      },
    }
  })
}
