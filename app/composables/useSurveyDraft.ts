import { isSame } from '~~/core/sheet/isSame'
import { surveySchema, type SurveyContent } from '~~/shared/surveys/survey'

/** What of a survey is written. */
export interface SurveyDraft {
  name: string
  content: SurveyContent
}

/** A survey as it is on the server; a new one has no version yet. */
export interface SavedSurvey extends SurveyDraft {
  version?: number
}

/** What is written, with the version that it was written over. */
interface KeptDraft extends SurveyDraft {
  over?: number
}

export type SurveyEdits = ReturnType<typeof useSurveyDraft>

const copyOf = ({ name, content }: SurveyDraft): SurveyDraft =>
  JSON.parse(JSON.stringify({ name, content })) as SurveyDraft

/** As the server would keep it: without spaces at the ends, with what goes without saying. */
const asKept = ({ name, content }: SurveyDraft): unknown => surveySchema.cast({ name, content }, { assert: false })

/**
 * What somebody writes of a survey and is not saved yet: kept in the tab until it is, with undo and redo.
 *
 * @param name - tells it apart from other surveys
 * @param saved - as it is on the server
 */
export function useSurveyDraft(name: string, saved: Ref<SavedSurvey>) {
  const kept = useSessionStorage<string | null>(`vetch survey ${name}`, null)
  const before = readDraft(kept.value)
  const draft = ref<SurveyDraft>(before ? copyOf(before) : copyOf(saved.value))
  const over = ref(before ? before.over : saved.value.version)
  const { undo, redo, canUndo, canRedo } = useDebouncedRefHistory(draft, {
    deep: true,
    debounce: 300,
    capacity: 200,
  })
  const isChanged = computed(() => !isSame(asKept(draft.value), asKept(saved.value)))
  const isOutdated = computed(() => isChanged.value && over.value !== saved.value.version)
  const keep = () => {
    kept.value = isChanged.value ? JSON.stringify({ ...draft.value, over: over.value }) : null
  }
  watch([draft, over], keep, { deep: true })
  watch(saved, (now, earlier) => {
    const wasChanged = !isSame(asKept(draft.value), asKept(earlier))
    if (!wasChanged && isChanged.value) draft.value = copyOf(now)
    if (!wasChanged || !isChanged.value) over.value = now.version
    keep()
  })
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
    /** Whether somebody else has saved the survey since this was begun. */
    isOutdated,
    /** The version that what is written would replace. */
    over,

    change: (changes: Partial<SurveyDraft>) => {
      draft.value = { ...draft.value, ...changes }
    },
    undo,
    redo,
    canUndo,
    canRedo,
    /** Goes on with what is written, over what was saved meanwhile. */
    keepMine: () => {
      over.value = saved.value.version
    },
    discard: () => {
      draft.value = copyOf(saved.value)
      over.value = saved.value.version
    },
  })
}

function readDraft(text: string | null): KeptDraft | null {
  try {
    return text === null ? null : (JSON.parse(text) as KeptDraft)
  } catch {
    return null
  }
}
