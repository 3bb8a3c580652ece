import { messagesByField } from '~~/shared/api/messagesByField'
import type { SurveyView } from '~~/shared/surveys/replies'
import { surveySchema } from '~~/shared/surveys/survey'
import type { SurveyEdits } from './useSurveyDraft'

/** Nobody waits longer for what they typed to be saved, in ms. */
const SAVED_AFTER = 800

/**
 * Saves a survey as somebody writes it, as long as it is shown to nobody. What runs is saved when they say so.
 *
 * @param survey - as it is on the server
 * @param edits - what is written
 */
export function useSurveySaving(siteId: number, survey: Ref<SurveyView>, edits: SurveyEdits, mayEdit: boolean) {
  const api = useApi()
  const { errors, isSaving, save } = useSaving()
  const isRunning = computed(() => survey.value.state === 'running')
  const place = { site: siteId, survey: survey.value.id }

  /** @returns whether all that is written is saved */
  async function saveNow(): Promise<boolean> {
    errors.value = messagesByField(surveySchema, edits.draft)
    if (!edits.isChanged) return true
    if (Object.keys(errors.value).length > 0 || isSaving.value || edits.isOutdated) return false
    const sent = JSON.stringify(edits.draft)
    const isSaved = await save(() => send({ ...edits.draft, version: edits.over ?? survey.value.version }))
    if (!isSaved || !edits.isChanged) return isSaved
    // Something was typed while it was under way.
    return sent === JSON.stringify(edits.draft) || isRunning.value ? false : saveNow()
  }

  async function send(body: SurveyEdits['draft'] & { version: number }): Promise<void> {
    try {
      survey.value = await api('updateSurvey', { ...place, body })
      // A model is the parent's: it has the new value with the next tick.
      await nextTick()
      edits.keepMine()
    } catch (error) {
      if (!(error instanceof ApiProblem) || error.status !== 409) throw error
      // What somebody else saved is shown beside what is written here.
      survey.value = await api('readSurvey', place)
      await nextTick()
    }
  }

  const saveDraft = () => {
    if (!isRunning.value) void saveNow()
  }
  if (mayEdit) {
    watchDebounced(() => [edits.draft, edits.over], saveDraft, { debounce: SAVED_AFTER, deep: true })
    onMounted(saveDraft)
    useEventListener('online', saveDraft)
  }
  return { errors, isSaving, saveNow }
}
