import type { ComponentInternalInstance, InjectionKey } from 'vue'
import { withLoadSignal } from './loadSignal'

/** Something that is on its way, for whoever shows that it is. */
export interface Load {
  isLoading: Ref<boolean>
  cancel: () => void
}

/** What the nearest component above loads. */
export const LOADS: InjectionKey<Load[]> = Symbol('loads')
const ofComponents = new WeakMap<ComponentInternalInstance, Load[]>()

function addToComponent(load: Load): void {
  const instance = getCurrentInstance()
  if (!instance) return
  const known = ofComponents.get(instance) ?? []
  if (known.length === 0) provide(LOADS, known)
  known.push(load)
  ofComponents.set(instance, known)
}

/** Something that is loaded for a page: its value, whether it is on its way, and why it failed. */
export function useLoaded<Value>(load: () => Promise<Value>) {
  const value = shallowRef<Value | null>(null)
  const problem = ref<string | null>(null)
  const isLoading = ref(false)
  /** An answer that a later one has overtaken says nothing any more. */
  let latest = 0
  let request = new AbortController()

  async function reload(): Promise<void> {
    const turn = (latest += 1)
    request = new AbortController()
    isLoading.value = true
    try {
      const loaded = await withLoadSignal(request.signal, load)
      if (turn !== latest) return
      value.value = loaded
      problem.value = null
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (turn === latest) problem.value = error.message
    } finally {
      if (turn === latest) isLoading.value = false
    }
  }
  function cancel(): void {
    latest += 1
    request.abort()
    isLoading.value = false
    problem.value = 'You canceled the loading.'
  }
  addToComponent({ isLoading, cancel })
  void reload()
  return { value, problem, isLoading, reload }
}
