import type { SurveyView } from '~~/shared/surveys/replies'
import type { SurveyContent } from '~~/shared/surveys/survey'

interface Draft {
  name: string
  content: SurveyContent
}
const draftOf = ({ name, content }: SurveyView): Draft => JSON.parse(JSON.stringify({ name, content })) as Draft

/**
 * What somebody writes of a survey and has not saved: kept in the tab until it is, with undo and redo.
 *
 * @param saved - as it is on the server
 */
export function useSurveyDraft(saved: SurveyView) {
  const kept = useSessionStorage<string | null>(`vetch survey ${saved.id} ${saved.version}`, null)
  const draft = ref<Draft>(readDraft(kept.value) ?? draftOf(saved))
  const { undo, redo, canUndo, canRedo, clear } = useDebouncedRefHistory(draft, {
    deep: true,
    debounce: 300,
    capacity: 200,
  })
  const isChanged = computed(() => JSON.stringify(draft.value) !== JSON.stringify(draftOf(saved)))
  watch(draft, () => (kept.value = isChanged.value ? JSON.stringify(draft.value) : null), { deep: true })
  useEventListener('keydown', (event: KeyboardEvent) => {
    const isWriting = event.target instanceof HTMLElement && event.target.matches('input, textarea, [contenteditable]')
    if (event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey) || event.altKey || isWriting) return
    event.preventDefault()
    if (event.shiftKey) redo()
    else undo()
  })
  return {
    draft,
    isChanged,

    undo,
    redo,
    canUndo,
    canRedo,
    discard: () => (draft.value = draftOf(saved)),
    forget: () => {
      kept.value = null
      clear()
    },
  }
}

function readDraft(text: string | null): Draft | null {
  try {
    return text === null ? null : (JSON.parse(text) as Draft)
  } catch {
    return null
  }
}
