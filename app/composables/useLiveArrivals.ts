import type { Arrived } from '~~/shared/evidence/live'

const MOST = 200

/** What arrives while one looks, the latest first. */
export function useLiveArrivals(siteId: number, isOwn: Ref<boolean>) {
  const arrived = shallowRef<Arrived[]>([])
  const isPaused = ref(false)
  const isConnected = ref(false)
  let source: EventSource | null = null
  watch(
    isOwn,
    () => {
      source?.close()
      source = new EventSource(`/api/sites/${siteId}/evidence/live${isOwn.value ? '?mine=yes' : ''}`)
      source.onopen = () => (isConnected.value = true)
      source.onerror = () => (isConnected.value = false)
      source.onmessage = ({ data }) => {
        if (isPaused.value) return
        const news = JSON.parse(String(data)) as Arrived[]
        arrived.value = [...news.reverse(), ...arrived.value].slice(0, MOST)
      }
    },
    { immediate: true },
  )
  onScopeDispose(() => source?.close())
  return { arrived, isPaused, isConnected, clear: () => (arrived.value = []) }
}
