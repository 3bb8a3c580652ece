import { fork } from 'node:child_process'
import { once } from 'node:events'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { createProgress } from '../../cli/progress'
import { rounded, sized, type Measurement } from '../measurement'
import { CHECKS } from './checks'
import type { Portion } from './worker'

const PORTIONS = sized(8, 1)
const RUNS_OF_QUICK = 4

/**
 * Simulates what the statistics claim about their errors: seeded, in as many processes as there are processors.
 *
 * @returns one line a claim, with the share that came out, the nominal one and the Monte Carlo error
 */
export async function measureCalibration(): Promise<Measurement[]> {
  const progress = createProgress('Simulating')
  const happened = CHECKS.map(() => 0)
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
        const [count] = (await once(worker, 'message')) as [number]
        happened[portion.check]! += count
        progress.show(next / portions.length)
      }
      worker.kill()
    }),
  )
  progress.clear()
  return CHECKS.map(({ name, nominal, bound, tolerance = 0, runs: wanted }, index) => {
    const runs = sized(Math.ceil(wanted / PORTIONS) * PORTIONS, RUNS_OF_QUICK)
    const share = happened[index]! / runs
    const error = Math.sqrt((nominal * (1 - nominal)) / runs)
    const slack = 4 * error + tolerance
    return {
      name: 'calibration',
      value: rounded(share),
      unit: 'share of runs',
      reference: { what: `nominal, ${bound}`, value: nominal, ratio: rounded(share / nominal) },
      details: {
        claim: name,
        runs,
        monteCarloError: rounded(error, 2),
        holds:
          bound === 'equal'
            ? Math.abs(share - nominal) <= slack
            : bound === 'at most'
              ? share <= nominal + slack
              : share >= nominal - slack,
      },
    }
  })
}
