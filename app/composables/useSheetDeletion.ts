import type { ExperimentSummary } from '~~/shared/experiments/replies'

/** Deletes experiments and personalizations from a list, each with a way back. */
export function useSheetDeletion(site: number, reload: () => Promise<void>) {
  const api = useApi()
  const notices = useNoticesStore()
  return async ({ id: experiment, name }: Pick<ExperimentSummary, 'id' | 'name'>): Promise<void> => {
    try {
      await api('deleteExperiment', { site, experiment })
      notices.show(`Deleted ${name}.`, {
        undo: async () => {
          await api('restoreExperiment', { site, experiment })
          await reload()
        },
      })
      await reload()
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      notices.show(error.message, { tone: 'problem' })
    }
  }
}
