/** Work that saves what somebody typed: whether it is under way, and messages by field where it is refused. */
export function useSaving() {
  const notices = useNoticesStore()
  const errors = ref<Record<string, string>>({})
  const isSaving = ref(false)

  /** Does it, and says why where it is refused. @returns whether it was done */
  async function save(work: () => Promise<void>): Promise<boolean> {
    errors.value = {}
    isSaving.value = true
    try {
      await work()
      return true
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      errors.value = error.fields
      notices.show(error.message, { tone: 'problem' })
      return false
    } finally {
      isSaving.value = false
    }
  }
  return { errors, isSaving, save }
}
