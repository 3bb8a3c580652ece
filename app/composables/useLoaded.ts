/** Something that is loaded for a page: its value, whether it is on its way, and why it failed. */
export function useLoaded<Value>(load: () => Promise<Value>) {
  const value = shallowRef<Value | null>(null)
  const problem = ref<string | null>(null)
  const isLoading = ref(false)

  async function reload(): Promise<void> {
    isLoading.value = true
    try {
      value.value = await load()
      problem.value = null
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error.message
    } finally {
      isLoading.value = false
    }
  }
  void reload()
  return { value, problem, isLoading, reload }
}
