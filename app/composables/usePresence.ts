import { PRESENCE_EVERY } from '~~/shared/sites/news'
import { drawThingId } from '~~/shared/thingId'

/**
 * Tells others that one is changing a variant, and who else is.
 *
 * @returns names of those whose tabs have told so lately
 */
export function usePresence(place: () => { site: number; experiment: number; variant: string } | null) {
  const api = useApi()
  const tab = drawThingId()
  const heard = ref(new Map<string, { person: string; at: number }>())
  const now = useNow({ interval: 5000 })

  async function tell(): Promise<void> {
    const { site, experiment, variant } = place() ?? {}
    if (!site || !experiment || !variant || document.visibilityState === 'hidden') return
    // Whoever cannot be told now is told the next time.
    await api('tellPresence', { site, experiment, body: { variant, tab } }).catch(() => null)
  }
  onNews((site, news) => {
    const own = place()
    if (!own || news?.kind !== 'presence' || site !== own.site || news.tab === tab) return
    if (news.experiment !== own.experiment || news.variant !== own.variant) return
    const isNew = !heard.value.has(news.tab)
    heard.value.set(news.tab, { person: news.person, at: Date.now() })
    // Whoever comes is answered at once.
    if (isNew) void tell()
  })
  useIntervalFn(tell, PRESENCE_EVERY)
  watch(() => place()?.variant, tell, { immediate: true })
  useEventListener(document, 'visibilitychange', tell)
  return computed(() => [
    ...new Set(
      [...heard.value.values()]
        .filter(({ at }) => now.value.getTime() - at < 2.5 * PRESENCE_EVERY)
        .map(({ person }) => person),
    ),
  ])
}
