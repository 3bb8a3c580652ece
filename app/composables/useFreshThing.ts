import { ValidationError } from 'yup'
import { ChangeRefused, type SheetItem } from '~~/core/sheet/change'
import { isBegun, isComplete } from '~/sheets/freshThings'
import type { FreshThing } from '~/sheets/sheetWork'

/**
 * A thing that is being written and joins the sheet as soon as it is complete; until then it is kept on the device.
 *
 * @param thing - null once it has joined: nothing of this is asked for any more then
 */
export function useFreshThing<Item extends SheetItem>(thing: () => FreshThing | null) {
  const work = useSheetStore().work!
  const errors = ref<Record<string, string>>({})
  const fresh = () => thing()!
  const draft = computed(() => fresh().item as Item)

  function drop(): void {
    work.kept.fresh = work.kept.fresh.filter(({ item }) => item.id !== fresh().item.id)
  }
  function commit(): void {
    errors.value = {}
    if (!isComplete(fresh())) return
    const { list, item } = JSON.parse(JSON.stringify(fresh())) as FreshThing
    // The metric that decides stands first.
    const isFirst = 'role' in item && item.role === 'primary'
    const before = isFirst ? (work.content.value!.metrics[0]?.id ?? null) : null
    try {
      work.make({ do: 'add', list, item, before })
      drop()
    } catch (error) {
      if (error instanceof ValidationError) errors.value = messagesOf(error)
      else if (error instanceof ChangeRefused) errors.value = { '': error.message }
      else throw error
    }
  }
  const state = (field: string): FieldState => ({
    errors: below(errors.value, field),
    isUnsaved: isBegun(fresh()) && field in errors.value,
    conflict: null,
  })
  return { draft, errors, commit, drop, state }
}

/** Messages of a field, by the path below it. */
export function below(errors: Readonly<Record<string, string>>, field: string): Record<string, string> {
  const own = Object.entries(errors).filter(([path]) => path === field || path.startsWith(`${field}.`))
  return Object.fromEntries(own.map(([path, message]) => [path.slice(field.length + 1), message]))
}
