import { fork } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import type { IntakeSite } from '../../server/intake/collect'
import type { CopyText } from './copyArrivals'
import type { History, PastExperiment } from './simulateHistory'

/** A site of the demo as it stands in the database. */
export interface PreparedSite {
  /** Its place among `DEMO_SITES`. */
  index: number
  origin: string
  intake: IntakeSite
  experiments: readonly PastExperiment[]
  rollouts: History['rollouts']
  survey: History['survey']
}

/** What came on one day on all sites, and when the last of it came, in ms since 1970. */
export interface SimulatedDay {
  text: CopyText
  lastMoment: number
}

/** By which weights new visitors are drawn from now on, where a split moves. */
export interface MovedSplit {
  experiment: number
  period: number
  weights: number[]
}

/** What the process that makes the days is told first. */
export interface DaysWanted {
  sites: readonly PreparedSite[]
  until: Date
}

/**
 * The days of the demo's visitors. Each is made in a process of its own while the one before is written and folded.
 *
 * @param movedSplits - as they are when a day is asked for: visitors get new weights a little later than these are known
 */
export async function* simulatedDays(
  wanted: DaysWanted,
  movedSplits: () => Promise<MovedSplit[]>,
): AsyncGenerator<SimulatedDay> {
  const maker = fork(fileURLToPath(new URL('./dayMaker.ts', import.meta.url)), {
    execArgv: ['--import', 'tsx'],
    serialization: 'advanced',
  })
  const ended = once(maker, 'exit').then(() => {
    throw new Error('The process that makes the demo’s visitors has ended.')
  })
  const ask = async (message: DaysWanted | MovedSplit[]): Promise<SimulatedDay | null> => {
    maker.send(message)
    const [day] = (await Promise.race([once(maker, 'message'), ended])) as [SimulatedDay | null]
    return day
  }
  ended.catch(() => {})
  try {
    let coming = ask(wanted)
    for (;;) {
      const day = await coming
      if (!day) return
      coming = movedSplits().then(ask)
      // Should it fail while the day before is still being written, it is known when this one is waited for.
      coming.catch(() => {})
      yield day
    }
  } finally {
    maker.kill()
  }
}
