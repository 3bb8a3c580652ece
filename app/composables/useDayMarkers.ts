import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { siteDays } from '~~/core/time/siteDay'
import type { DayMarker } from '~/charts/dayMarkers'

const TOLD: Record<string, string> = { paused: 'paused', resumed: 'resumed', 'metric added': 'metric added' }
const LATEST = 100

/** What happened to an experiment while it ran, for its charts. */
export function useDayMarkers(sheet: () => ExperimentSheet) {
  const api = useApi()
  const store = useSheetStore()
  const markers = shallowRef<DayMarker[]>([])
  watch(
    () => sheet().version,
    async () => {
      const changes = await api('readChanges', { ...store.place, query: { limit: LATEST } }).catch(() => null)
      const dayOf = siteDays(sheet().timeZone)
      markers.value = (changes?.items ?? []).flatMap(({ action, at }) =>
        TOLD[action] ? [{ day: dayOf(Date.parse(at)), text: TOLD[action] }] : [],
      )
    },
    { immediate: true },
  )
  return markers
}
