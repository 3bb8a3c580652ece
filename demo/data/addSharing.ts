import { and, eq } from 'drizzle-orm'
import { PLAIN_TERMS } from '../../core/sheet/terms'
import type { GroupPlace } from '../../core/targeting/whyNot'
import type { Database } from '../../server/database/connect'
import { exclusionGroup, experiment, holdout } from '../../server/database/schema'
import { createAudience } from '../../server/services/audiences/savedAudiences'
import { createPersona } from '../../server/services/audiences/personas'
import type { SheetParts } from '../../server/services/experiments/changeSheet'
import {
  ASKS_FOR_PHONES,
  DEMO_HOLDOUTS,
  DEMO_PERSONAS,
  FROM_ADS,
  HOME_GROUP,
  IN_HOME_GROUP,
  PHONES_WITHOUT_BOOKING,
} from './sharing'
import { DAY } from '../../core/time/units'

export interface DemoSharing {
  /** What a sheet of the demo says beside its content, by its name. */
  partsOf: (name: string) => SheetParts
  /** Gives what runs its part of its group, and says which one it is. */
  placeOf: (id: number, name: string) => Promise<GroupPlace | null>
}

function daysBefore(now: Date, days: number): Date {
  return new Date(now.getTime() - days * DAY)
}

/** Groups, saved audiences, personas and a holdout of the demo. */
export async function addSharing(
  database: Database,
  siteId: number,
  personId: number,
  now: Date,
): Promise<DemoSharing> {
  const [group] = await database
    .insert(exclusionGroup)
    .values({ siteId, ...HOME_GROUP, createdBy: personId })
    .returning()
  const phones = await createAudience(database, siteId, personId, PHONES_WITHOUT_BOOKING)
  await createAudience(database, siteId, personId, FROM_ADS)
  for (const persona of DEMO_PERSONAS) await createPersona(database, siteId, personId, persona)
  for (const { name, salt, share, fromDaysAgo, untilDaysAgo } of DEMO_HOLDOUTS)
    await database.insert(holdout).values({
      siteId,
      name,
      salt,
      share,
      startsAt: daysBefore(now, fromDaysAgo),
      endsAt: daysBefore(now, untilDaysAgo),
      createdBy: personId,
      createdAt: daysBefore(now, fromDaysAgo),
    })
  return {
    partsOf(experimentName) {
      const place = IN_HOME_GROUP[experimentName]
      return {
        ...(place ? { share: place.share } : {}),
        ...(place ? { terms: { ...PLAIN_TERMS, group: group!.id, ramp: place.ramp ?? [] } } : {}),
        ...(experimentName === ASKS_FOR_PHONES
          ? { audience: { join: 'all', of: [{ fact: 'audience', is: 'yes', id: phones.id }] } }
          : {}),
      }
    },
    async placeOf(id, experimentName) {
      const place = IN_HOME_GROUP[experimentName]
      if (!place) return null
      const buckets: [number, number][] = [[0, place.share]]
      await database
        .update(experiment)
        .set({ buckets })
        .where(and(eq(experiment.siteId, siteId), eq(experiment.id, id)))
      return { salt: HOME_GROUP.salt, ranges: buckets }
    },
  }
}
