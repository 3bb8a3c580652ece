import type { SurveyContent } from '~~/shared/surveys/survey'

/** What of a survey is written. */
export interface SurveyDraft {
  name: string
  content: SurveyContent
}

const copyOf = ({ name, content }: SurveyDraft): SurveyDraft =>
  JSON.parse(JSON.stringify({ name, content })) as SurveyDraft

/**
 * What somebody writes of a survey and is not saved yet: kept in the tab until it is, with undo and redo.
 *
 * @param name - tells it apart from other surveys
 * @param saved - as it is on the server
 */
export function useSurveyDraft(name: string, saved: Ref<SurveyDraft>) {
  const kept = useSessionStorage<string | null>(`vetch survey ${name}`, null)
  const draft = ref<SurveyDraft>(readDraft(kept.value) ?? copyOf(saved.value))
  const { undo, redo, canUndo, canRedo } = useDebouncedRefHistory(draft, {
    deep: true,
    debounce: 300,
    capacity: 200,
  })
  const isChanged = computed(() => JSON.stringify(draft.value) !== JSON.stringify(copyOf(saved.value)))
  watch([draft, saved], () => (kept.value = isChanged.value ? JSON.stringify(draft.value) : null), { deep: true })
  useEventListener('keydown', (event: KeyboardEvent) => {
    const isWriting = event.target instanceof HTMLElement && event.target.matches('input, textarea, [contenteditable]')
    if (event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey) || event.altKey || isWriting) return
    event.preventDefault()
    if (event.shiftKey) redo()
    else undo()
  })
  return reactive({
    draft,
    isChanged,

    undo,
    redo,
    canUndo,
    canRedo,
    discard: () => {
      draft.value = copyOf(saved.value)
    },
  })
}

function readDraft(text: string | null): SurveyDraft | null {
  try {
    return text === null ? null : (JSON.parse(text) as SurveyDraft)
  } catch {
    return null
  }
}
