import { AROUND_DAYS, type AroundDay } from '~~/core/history/aroundDay'
import { dayAfter } from '~~/core/time/siteDay'

/** A mean over some days, drawn as a level line. */
export interface Level {
  from: string
  to: string
  value: number
}

/** How a measure stood before a day and after it. */
export function levelsAround({ before, after }: AroundDay, day: string): Level[] {
  return [
    { from: dayAfter(day, -AROUND_DAYS), to: dayAfter(day, -1), value: before.mean },
    { from: dayAfter(day, 1), to: dayAfter(day, AROUND_DAYS), value: after.mean },
  ]
}
