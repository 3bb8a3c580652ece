import { ValidationError } from 'yup'
import { experimentPatchSchema, type ExperimentPatch, type ExperimentSheet } from '~~/shared/experiment'

type Part = Exclude<keyof ExperimentPatch, 'version'> & keyof ExperimentSheet

/**
 * A section's own copy of parts of the sheet. What is typed stays until it is saved: a wrong input shows its
 * message and is kept, a failed save can be tried again.
 */
export function useSectionDraft<Key extends Part>(
  keys: readonly Key[],
  initial: (sheet: ExperimentSheet) => Pick<ExperimentPatch, Key>,
) {
  const store = useSheetStore()
  const notices = useNoticesStore()
  const draft = ref(clone(initial(store.sheet!))) as Ref<Pick<ExperimentPatch, Key>>
  const errors = ref<Record<string, string>>({})
  /** The draft as it was last in step with the sheet: while it differs, something typed is not saved yet. */
  let inStep = JSON.stringify(draft.value)

  watch(
    () => store.sheet?.version,
    () => {
      if (!store.sheet || JSON.stringify(draft.value) !== inStep) return
      draft.value = clone(initial(store.sheet))
      inStep = JSON.stringify(draft.value)
    },
  )

  async function commit(): Promise<void> {
    errors.value = {}
    const patch = clone(draft.value)
    const before = inStep
    try {
      await experimentPatchSchema.validate({ version: 0, ...patch }, { abortEarly: false })
      inStep = JSON.stringify(patch)
      await store.save(patch)
    } catch (error) {
      inStep = before
      if (error instanceof ValidationError) {
        errors.value = Object.fromEntries(
          (error.inner.length > 0 ? error.inner : [error]).map((each) => [each.path ?? '', each.message]),
        )
      } else if (error instanceof ApiProblem) {
        errors.value = { ...error.fields, '': error.message }
        notices.show(error.message, { tone: 'problem' })
      } else throw error
    }
  }

  /** Changes the draft and saves, with a way back. */
  async function commitUndoable(text: string, change: (draft: Pick<ExperimentPatch, Key>) => void): Promise<void> {
    const before = clone(draft.value)
    change(draft.value)
    await commit()
    const undo = async () => {
      draft.value = before
      await commit()
    }
    if (Object.keys(errors.value).length === 0) notices.show(text, { undo })
  }
  return { draft, errors, commit, commitUndoable }
}

function clone<Value>(value: Value): Value {
  return JSON.parse(JSON.stringify(value)) as Value
}
