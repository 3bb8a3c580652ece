import { ValidationError } from 'yup'
import { ChangeRefused, thingAt, type Fields, type SheetPlace } from '~~/core/sheet/change'
import { isSame } from '~~/core/sheet/isSame'
import { fieldKey, placeKey } from '~/sheets/sheetWork'

/** How a field stands: what is wrong with it, and what it says elsewhere by now. */
export interface FieldState {
  /** By the path below the field; '' for the field itself. */
  errors: Record<string, string>
  isUnsaved: boolean
  /** What the sheet says by now, where it was changed elsewhere while this was written. */
  conflict: { theirs: unknown; keepMine: () => void; takeTheirs: () => void } | null
}

/**
 * One thing of the open sheet as it is being written. What is typed is kept until it is saved, also through a reload;
 * `commit` saves whatever of it can be saved, each group of fields by itself.
 *
 * @param groups - fields, those together that only make sense together
 */
export function useSheetThing<Thing extends object>(
  at: MaybeRefOrGetter<SheetPlace>,
  groups: readonly (readonly (keyof Thing & string)[])[],
) {
  const { work } = storeToRefs(useSheetStore())
  const { kept, content, make } = work.value!
  const fields = groups.flat()
  const thing = computed<Fields>(() => thingAt(content.value!, toValue(at)) ?? {})
  const keyOf = (field: string) => fieldKey(placeKey(toValue(at)), field)
  const draft = ref<Fields>({})
  const errors = ref<Record<string, string>>({})

  function follow(): void {
    for (const field of fields) {
      const typed = kept.typed[keyOf(field)]
      const value = typed ? typed.value : thing.value[field]
      if (!isSame(draft.value[field], value)) draft.value[field] = copy(value)
    }
  }
  function remember(): void {
    for (const field of fields) {
      const key = keyOf(field)
      if (isSame(draft.value[field], thing.value[field])) Reflect.deleteProperty(kept.typed, key)
      else if (!isSame(draft.value[field], kept.typed[key]?.value))
        kept.typed[key] = {
          value: copy(draft.value[field]),
          from: kept.typed[key]?.from ?? copy(thing.value[field]),
          at: toValue(at),
          field,
        }
    }
  }
  follow()
  watch([thing, () => fields.map((field) => kept.typed[keyOf(field)]?.value)], follow, { deep: true })
  watch(draft, remember, { deep: true, flush: 'sync' })

  function commit(): void {
    errors.value = {}
    for (const group of groups) commitGroup(group)
  }
  function commitGroup(group: readonly string[]): void {
    const typed = group.filter((field) => kept.typed[keyOf(field)])
    if (typed.length === 0 || typed.some((field) => conflictOf(field))) return
    const from = Object.fromEntries(typed.map((field) => [field, kept.typed[keyOf(field)]!.from]))
    const to = Object.fromEntries(typed.map((field) => [field, kept.typed[keyOf(field)]!.value]))
    try {
      make({ do: 'set', of: toValue(at), from, to })
      typed.forEach((field) => Reflect.deleteProperty(kept.typed, keyOf(field)))
      follow()
    } catch (error) {
      if (error instanceof ValidationError) Object.assign(errors.value, messagesOf(error))
      else if (!(error instanceof ChangeRefused)) throw error
    }
  }

  function conflictOf(field: string): FieldState['conflict'] {
    const typed = kept.typed[keyOf(field)]
    if (!typed || isSame(typed.from, thing.value[field]) || isSame(typed.value, thing.value[field])) return null
    return {
      theirs: thing.value[field],
      keepMine: () => {
        kept.typed[keyOf(field)] = { ...typed, from: copy(thing.value[field]) }
        commit()
      },
      takeTheirs: () => {
        Reflect.deleteProperty(kept.typed, keyOf(field))
        follow()
      },
    }
  }
  /** @param field - its name */
  function state(field: keyof Thing & string): FieldState {
    return {
      errors: below(errors.value, field),
      isUnsaved: keyOf(field) in kept.typed,
      conflict: conflictOf(field),
    }
  }

  // What an earlier visit left unsaved is saved now, if it can be.
  onMounted(() => fields.some((field) => keyOf(field) in kept.typed) && commit())
  return { draft: draft as Ref<Thing>, thing, commit, state }
}

export function messagesOf(error: ValidationError): Record<string, string> {
  const all = error.inner.length > 0 ? error.inner : [error]
  return Object.fromEntries(all.map(({ path, message }) => [path ?? '', message]))
}

function copy<Value>(value: Value): Value {
  return value === undefined ? value : (JSON.parse(JSON.stringify(value)) as Value)
}
