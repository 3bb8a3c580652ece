import type { DayMarker } from '~/charts/dayMarkers'
import { siteDays } from '~~/core/time/siteDay'

/** What started, ended and was noted within some days, for charts of that time. */
export function useSiteMarkers(siteId: number, timeZone: () => string, filter: () => Filter) {
  const api = useApi()
  const { value } = useLoaded(async () => {
    const [experiments, { findings }] = await Promise.all([
      api('listExperiments', { site: siteId, query: { limit: 200 } }),
      api('listFindings', { site: siteId, query: {} }),
    ])
    return { experiments: experiments.items, findings }
  })
  return computed<DayMarker[]>(() => {
    const dayOf = siteDays(timeZone())
    const { from, to } = filter()
    const { experiments = [], findings = [] } = value.value ?? {}
    const noted = new Set(findings.map(({ createdAt }) => dayOf(Date.parse(createdAt))))
    return [
      ...experiments.flatMap(({ startedAt, endedAt }) => [
        ...(startedAt ? [{ day: dayOf(Date.parse(startedAt)), text: '▸' }] : []),
        ...(endedAt ? [{ day: dayOf(Date.parse(endedAt)), text: '■' }] : []),
      ]),
      ...[...noted].map((day) => ({ day, text: '✎' })),
    ].filter(({ day }) => day >= from && day <= to)
  })
}
