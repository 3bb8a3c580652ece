/** Requests from beside one field: whether one is under way, and why the last was refused. */
export function useRequest() {
  const problem = ref<string>()
  const isUnderWay = ref(false)

  /** Does it, and keeps the message where it is refused. */
  async function request(work: () => Promise<void>): Promise<void> {
    problem.value = undefined
    isUnderWay.value = true
    try {
      await work()
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error.message
    } finally {
      isUnderWay.value = false
    }
  }
  return { problem, isUnderWay, request }
}
