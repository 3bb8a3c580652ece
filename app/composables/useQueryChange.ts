import type { LocationQuery, LocationQueryRaw } from 'vue-router'

let last: Promise<unknown> = Promise.resolve()

/**
 * Changes the query of the address, one change after the other: two that come at once both hold. A change is dropped
 * when one has gone to another view meanwhile.
 */
export function useQueryChange() {
  const router = useRouter()
  return (change: (query: LocationQuery) => LocationQueryRaw): void => {
    const { path } = router.currentRoute.value
    const go = async () => {
      const { path: now, query, hash } = router.currentRoute.value
      if (now === path) await router.replace({ query: change({ ...query }), hash })
    }
    // One that fails keeps none after it from being made.
    last = last.then(go, go)
  }
}
