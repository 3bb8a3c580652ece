/** Something that is loaded for a page: its value, whether it is on its way, and why it failed. */
export function useLoaded<Value>(load: () => Promise<Value>) {
  const value = shallowRef<Value | null>(null)
  const problem = ref<string | null>(null)
  const isLoading = ref(false)
  /** An answer that a later one has overtaken says nothing any more. */
  let latest = 0

  async function reload(): Promise<void> {
    const turn = (latest += 1)
    isLoading.value = true
    try {
      const loaded = await load()
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
  void reload()
  return { value, problem, isLoading, reload }
}
