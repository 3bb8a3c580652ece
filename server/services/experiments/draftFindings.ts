import { setTimeout as wait } from 'node:timers/promises'
import { LRUCache } from 'lru-cache'
import type { PreflightFinding } from '../../../core/preflight/preflight'
import type { ExperimentSheet } from '../../../shared/experiments/replies'
import type { LookAtTraffic } from './lookAtTraffic'

/** How long whoever opens Today waits for it, in ms; what takes longer is known the next time. */
const PATIENCE = 800
/** Today asks for every draft that lacks nothing, and is asked for each second. */
const KEPT_FOR = 60_000
const kept = new LRUCache<string, Promise<PreflightFinding[]>>({ max: 2000, ttl: KEPT_FOR })

/**
 * What the same look says of a draft that a start takes: whether something keeps it from being started.
 *
 * @param beside - ids of what runs, which it may collide with
 * @returns null where that is not known yet
 */
export async function findingsOfDraft(
  sheet: ExperimentSheet,
  beside: readonly number[],
  look: LookAtTraffic,
  now: Date,
): Promise<PreflightFinding[] | null> {
  const key = [sheet.siteId, sheet.id, sheet.version, ...beside].join(' ')
  let asked = kept.get(key)
  if (!asked) {
    asked = look(sheet, now).then(({ findings }) => findings)
    kept.set(key, asked)
    asked.catch(() => kept.delete(key))
  }
  return Promise.race([asked, wait(PATIENCE, null)]).catch(() => null)
}
