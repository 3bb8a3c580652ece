import { messagesByField } from '~~/shared/api/messagesByField'
import type { SurveyView } from '~~/shared/surveys/replies'
import { surveySchema } from '~~/shared/surveys/survey'

/** Nobody waits longer for what they typed to be saved, in ms. */
const SAVED_AFTER = 800

/**
 * Saves a survey as somebody writes it, as long as it is shown to nobody. What runs is saved when they say so.
 *
 * @param survey - as it is on the server
 * @param edits - what is written
 */
export function useSurveySaving(
  siteId: number,
  survey: Ref<SurveyView>,
  edits: ReturnType<typeof useSurveyDraft>,
  mayEdit: boolean,
) {
  const api = useApi()
  const { errors, isSaving, save } = useSaving()
  const isRunning = computed(() => survey.value.state === 'running')

  /** @returns whether what is written is saved */
  async function saveNow(): Promise<boolean> {
    errors.value = messagesByField(surveySchema, edits.draft)
    if (!edits.isChanged) return true
    if (Object.keys(errors.value).length > 0 || isSaving.value) return false
    const body = { ...edits.draft, version: survey.value.version }
    return save(async () => {
      survey.value = await api('updateSurvey', { site: siteId, survey: survey.value.id, body })
    })
  }
  if (mayEdit)
    watchDebounced(
      () => edits.draft,
      () => {
        if (!isRunning.value) void saveNow()
      },
      { debounce: SAVED_AFTER, deep: true },
    )
  return { errors, isSaving, saveNow }
}
