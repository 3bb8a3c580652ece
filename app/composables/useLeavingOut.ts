import type { CallInput } from './useApi'

/** Whom an exclusion is of. */
export type LeftOut = Omit<CallInput<'addExclusion'>['body'], 'reason'>

/**
 * Leaves visitors out of the numbers of the experiment that is open, and can take it back.
 *
 * @param changed - called when somebody is left out, or counted again
 */
export function useLeavingOut(changed: () => void) {
  const store = useSheetStore()
  const api = useApi()
  const notices = useNoticesStore()

  async function leaveOut(whom: LeftOut, reason: string): Promise<void> {
    const undo = async (exclusion: number) => {
      await api('removeExclusion', { ...store.place, exclusion })
      changed()
      notices.show('Counted again. The numbers follow in a moment.')
    }
    try {
      const { id } = await api('addExclusion', { ...store.place, body: { ...whom, reason } })
      changed()
      notices.show('Left out. The numbers follow in a moment.', { undo: () => undo(id) })
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      notices.show(error.message, { tone: 'problem' })
    }
  }
  return { leaveOut }
}
