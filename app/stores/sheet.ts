import { defineStore } from 'pinia'
import type { Edit } from '~~/core/edits/edit'
import type { ExperimentPatch, ExperimentSheet, MetricInput } from '~~/shared/experiment'

const TRANSITIONS = {
  start: 'startExperiment',
  pause: 'pauseExperiment',
  resume: 'resumeExperiment',
  end: 'endExperiment',
} as const
type Transition = keyof typeof TRANSITIONS

/** The sheet that is open: loaded once for its page and the pointing view, saved part by part. */
export const useSheetStore = defineStore('sheet', () => {
  const api = useApi()
  const sheet = ref<ExperimentSheet | null>(null)
  const isSaving = ref(false)
  /** Saves go one after the other, each on top of the version that the one before has made. */
  let queue: Promise<unknown> = Promise.resolve()

  /** Names the open sheet in calls. */
  const place = computed(() => ({ site: sheet.value?.siteId ?? 0, experiment: sheet.value?.id ?? 0 }))

  async function open(siteId: number, id: number): Promise<ExperimentSheet> {
    sheet.value = null
    sheet.value = await api('readExperiment', { site: siteId, experiment: id })
    return sheet.value
  }

  function inTurn(change: (version: number) => Promise<ExperimentSheet>): Promise<void> {
    const saved = queue.then(async () => {
      isSaving.value = true
      try {
        sheet.value = await change(sheet.value!.version)
      } finally {
        isSaving.value = false
      }
    })
    queue = saved.catch(() => {})
    return saved
  }

  function save(patch: Omit<ExperimentPatch, 'version'>): Promise<void> {
    return inTurn((version) => api('updateExperiment', { ...place.value, body: { ...patch, version } }))
  }

  function putEdit(variantId: number, edit: Edit): Promise<void> {
    return inTurn((version) => api('addEdit', { ...place.value, variant: variantId, body: { version, edit } }))
  }

  function removeEdit(variantId: number, editId: string): Promise<void> {
    return inTurn((version) =>
      api('removeEdit', { ...place.value, variant: variantId, edit: editId, query: { version } }),
    )
  }

  /** Adds a metric to a started experiment. */
  function addMetric(metric: MetricInput): Promise<void> {
    return inTurn((version) => api('addMetric', { ...place.value, body: { version, metric } }))
  }

  async function move(transition: Transition): Promise<void> {
    sheet.value = await api(TRANSITIONS[transition], place.value)
  }

  return { sheet, isSaving, place, open, save, putEdit, removeEdit, addMetric, move }
})
