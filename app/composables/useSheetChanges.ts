import { ValidationError } from 'yup'
import { ChangeRefused, type SheetChange } from '~~/core/sheet/change'

/** Changes of the open sheet that are made by a click, each told with a way back. */
export function useSheetChanges() {
  const notices = useNoticesStore()
  const work = useSheetStore().work!
  const content = computed(() => work.content.value!)

  /** @param told - what was done, in words */
  function make(change: SheetChange, told?: string): void {
    try {
      const step = work.make(change)
      if (!step || !told) return
      notices.show(told, {
        undo() {
          const refusal = work.takeBack(step)
          if (refusal) notices.show(refusal, { tone: 'problem' })
        },
      })
    } catch (error) {
      if (!(error instanceof ChangeRefused || error instanceof ValidationError)) throw error
      notices.show(error.message, { tone: 'problem' })
    }
  }
  return { content, make }
}
