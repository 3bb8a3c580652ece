import { defineNitroPlugin } from '#imports'
import { database } from '../database/database'
import { ensurePartitions } from '../database/partitions'
import { isDatabaseAway } from '../routing/operation'
import { foldNewEvents } from '../services/results/fold'

const FOLD_EVERY = 1500
const PARTITIONS_EVERY = 6 * 60 * 60 * 1000

/** Folds new events as they come, and makes the partitions of the coming months in time. */
export default defineNitroPlugin((nitro) => {
  const stops = [
    repeat(FOLD_EVERY, () => foldNewEvents(database().$client)),
    repeat(PARTITIONS_EVERY, () => ensurePartitions(database(), new Date())),
  ]
  nitro.hooks.hook('close', () => stops.forEach((stop) => stop()))
})

/** Runs work again and again, a pause after the end of each run. What fails is tried again at the next run. */
function repeat(pause: number, work: () => Promise<unknown>): () => void {
  let timer = setTimeout(run, pause)
  let isStopped = false
  async function run() {
    await work().catch((error: unknown) => {
      if (!isDatabaseAway(error)) console.error(error)
    })
    if (!isStopped) timer = setTimeout(run, pause)
  }
  return () => {
    isStopped = true
    clearTimeout(timer)
  }
}
