import type { CollectReply } from '../../shared/delivery/replies'
import type { Pool } from 'pg'
import { COUNT_REFUSALS } from './queries'

const EVERY = 2000
const MOST_REASONS = 500

/** Counts what intake refuses, by site, day and reason, and writes the counts down every two seconds. */
export function createRefusalCounter(pool: () => Pool, isAway: (error: unknown) => boolean) {
  const counts = new Map<string, { siteId: number; day: string; reason: string; events: number }>()
  let timer: NodeJS.Timeout | undefined

  async function flush(): Promise<void> {
    timer = undefined
    const rows = [...counts.values()]
    counts.clear()
    try {
      await pool().query(COUNT_REFUSALS, [
        rows.map(({ siteId }) => siteId),
        rows.map(({ day }) => day),
        rows.map(({ reason }) => reason),
        rows.map(({ events }) => events),
      ])
    } catch (error) {
      if (!isAway(error)) throw error
    }
  }

  return (siteId: number, refused: CollectReply['refused'], at: Date): void => {
    const day = at.toISOString().slice(0, 10)
    for (const { why } of refused) {
      const reason = why.slice(0, 100)
      const key = `${siteId} ${day} ${reason}`
      const known = counts.get(key)
      if (known) known.events++
      else if (counts.size < MOST_REASONS) counts.set(key, { siteId, day, reason, events: 1 })
    }
    if (counts.size > 0) timer ??= setTimeout(() => void flush(), EVERY).unref()
  }
}
