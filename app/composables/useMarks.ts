import { MARK_SIGNS } from '~~/core/history/mark'
import type { DayMarker } from '~/charts/dayMarkers'

/** What happened on a site within the days of a filter: for charts of that time, and to be read. */
export function useMarks(siteId: number, filter: () => Filter) {
  const api = useApi()
  const {
    value: marks,
    problem,
    reload,
  } = useLoaded(() => {
    const { from, to } = filter()
    return api('readMarks', { site: siteId, query: { from, to } })
  })
  watch(filter, reload)
  /** One for each day, with a sign for each kind. */
  const markers = computed<DayMarker[]>(() => {
    const signs = new Map<string, Set<string>>()
    for (const { day, kind } of marks.value ?? []) signs.set(day, (signs.get(day) ?? new Set()).add(MARK_SIGNS[kind]))
    return [...signs].map(([day, ofDay]) => ({ day, text: [...ofDay].join('') }))
  })
  return { marks, markers, problem, reload }
}
