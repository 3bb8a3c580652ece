import { defineStore } from 'pinia'
import type { ExperimentPatch, ExperimentSheet } from '~~/shared/experiment'

type Transition = 'start' | 'pause' | 'resume' | 'end'

/** The sheet that is open: loaded once for its page and the pointing view, saved part by part. */
export const useSheetStore = defineStore('sheet', () => {
  const api = useApi()
  const sheet = ref<ExperimentSheet | null>(null)
  const isSaving = ref(false)
  /** Saves go one after the other, each on top of the version that the one before has made. */
  let queue: Promise<unknown> = Promise.resolve()

  const path = computed(() => `/api/sites/${sheet.value?.siteId}/experiments/${sheet.value?.id}`)

  async function open(siteId: number, id: number): Promise<ExperimentSheet> {
    sheet.value = null
    sheet.value = await api<ExperimentSheet>('GET', `/api/sites/${siteId}/experiments/${id}`)
    return sheet.value
  }

  function save(patch: Omit<ExperimentPatch, 'version'>): Promise<void> {
    const saved = queue.then(async () => {
      isSaving.value = true
      try {
        sheet.value = await api<ExperimentSheet>('PATCH', path.value, { ...patch, version: sheet.value!.version })
      } finally {
        isSaving.value = false
      }
    })
    queue = saved.catch(() => {})
    return saved
  }

  async function move(transition: Transition): Promise<void> {
    sheet.value = await api<ExperimentSheet>('POST', `${path.value}/${transition}`)
  }

  return { sheet, isSaving, path, open, save, move }
})
