import { dayAfter, siteDays } from '~~/core/time/siteDay'
import { daysBetween, MOST_DAYS, readPage, readSegment, type FilterQuery } from '~~/shared/evidence/filter'

/** Which days of a site one looks at, and perhaps which of its visitors and pages. */
export type Filter = FilterQuery
export interface FilterChange {
  days?: number
  from?: string
  to?: string
  segment?: string | null
  page?: string | null
  compare?: string | null
}

const DAY = /^\d{4}-\d{2}-\d{2}$/
const DEFAULT_DAYS = 28
/** Compares with as many days before. */
export const BEFORE = 'before'
/** Compares with everybody. */
export const EVERYBODY = 'everybody'

/**
 * The filter of a view, kept in the address: as days back from today, which moves on with the calendar, or as two days,
 * which stays. And what it is compared with: as many days before, or another segment of the same days.
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
    const { segment, page } = route.query
    return {
      from: own?.from ?? dayAfter(today.value, 1 - daysBack.value!),
      to: own?.to ?? today.value,
      ...(typeof segment === 'string' && readSegment(segment) ? { segment } : {}),
      ...(typeof page === 'string' && readPage(page) ? { page } : {}),
    }
  })
  /** As it stands in the address; null without a comparison. */
  const compare = computed(() => {
    const { compare: text } = route.query
    if (typeof text !== 'string') return null
    return text === BEFORE || text === EVERYBODY || readSegment(text) ? text : null
  })
  const compared = computed<Filter | null>(() => {
    if (compare.value === null) return null
    const { segment: _, ...rest } = filter.value
    if (compare.value === EVERYBODY) return rest
    return compare.value === BEFORE ? before(filter.value) : { ...rest, segment: compare.value }
  })
  function set(changes: FilterChange): void {
    changeQuery((query) => {
      if (changes.days !== undefined || changes.from !== undefined)
        for (const name of ['days', 'from', 'to']) Reflect.deleteProperty(query, name)
      for (const [name, value] of Object.entries(changes)) {
        if (value === null) Reflect.deleteProperty(query, name)
        else if (value !== undefined) query[name] = String(value)
      }
      if (query.days === String(DEFAULT_DAYS)) Reflect.deleteProperty(query, 'days')
      return query
    })
  }
  return { filter, daysBack, compare, compared, set }
}

function before(filter: Filter): Filter {
  const count = daysBetween(filter.from, filter.to) + 1
  return { ...filter, from: dayAfter(filter.from, -count), to: dayAfter(filter.from, -1) }
}

function ownRange(from: unknown, to: unknown): { from: string; to: string } | null {
  const isRange = typeof from === 'string' && typeof to === 'string' && DAY.test(from) && DAY.test(to) && from <= to
  return isRange && daysBetween(from, to) < MOST_DAYS ? { from, to } : null
}
