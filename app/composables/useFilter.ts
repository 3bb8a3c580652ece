import { dayAfter, siteDays } from '~~/core/time/siteDay'
import { daysBetween, MOST_DAYS, readSegment } from '~~/shared/traffic'

/** Which days of a site one looks at, and perhaps which of its visitors. */
export interface Filter {
  from: string
  to: string
  /** Such as device:phone; undefined for everybody. */
  segment?: string
}

const DAY = /^\d{4}-\d{2}-\d{2}$/
const DEFAULT_DAYS = 28

/**
 * The filter of a view, kept in the address: as days back from today, which moves on with the calendar, or as two days,
 * which stays.
 */
export function useFilter(timeZone: () => string) {
  const route = useRoute()
  const changeQuery = useQueryChange()
  const today = computed(() => siteDays(timeZone())(Date.now()))
  /** Days back from today; null where two days are given. */
  const daysBack = computed(() => {
    if (ownRange(route.query.from, route.query.to)) return null
    const days = Number(route.query.days)
    return Number.isInteger(days) && days >= 1 && days <= MOST_DAYS ? days : DEFAULT_DAYS
  })
  const filter = computed<Filter>(() => {
    const own = ownRange(route.query.from, route.query.to)
    const { segment } = route.query
    return {
      from: own?.from ?? dayAfter(today.value, 1 - daysBack.value!),
      to: own?.to ?? today.value,
      ...(typeof segment === 'string' && readSegment(segment) ? { segment } : {}),
    }
  })
  function set(changes: { days?: number; from?: string; to?: string; segment?: string | null }): void {
    changeQuery((query) => {
      if (changes.days !== undefined || changes.from !== undefined)
        for (const name of ['days', 'from', 'to']) Reflect.deleteProperty(query, name)
      if (changes.segment === null) Reflect.deleteProperty(query, 'segment')
      const named = Object.entries(changes).filter(([, value]) => value !== undefined && value !== null)
      for (const [name, value] of named) query[name] = String(value)
      if (query.days === String(DEFAULT_DAYS)) Reflect.deleteProperty(query, 'days')
      return query
    })
  }
  return { filter, daysBack, set }
}

function ownRange(from: unknown, to: unknown): { from: string; to: string } | null {
  const isRange = typeof from === 'string' && typeof to === 'string' && DAY.test(from) && DAY.test(to) && from <= to
  return isRange && daysBetween(from, to) < MOST_DAYS ? { from, to } : null
}
