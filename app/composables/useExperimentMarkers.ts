import type { DayMarker } from '~/charts/dayMarkers'
import { siteDays } from '~~/core/time/siteDay'

/** What started and ended within some days, for charts of that time. */
export function useExperimentMarkers(siteId: number, timeZone: () => string, filter: () => Filter) {
  const api = useApi()
  const { value } = useLoaded(() => api('listExperiments', { site: siteId, query: { limit: 200 } }))
  return computed<DayMarker[]>(() => {
    const dayOf = siteDays(timeZone())
    const { from, to } = filter()
    return (value.value?.items ?? [])
      .flatMap(({ startedAt, endedAt }) => [
        ...(startedAt ? [{ day: dayOf(Date.parse(startedAt)), text: '▸' }] : []),
        ...(endedAt ? [{ day: dayOf(Date.parse(endedAt)), text: '■' }] : []),
      ])
      .filter(({ day }) => day >= from && day <= to)
  })
}
