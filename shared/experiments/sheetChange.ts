import { array, lazy, mixed, object, string, ValidationError, type ObjectSchema, type Schema } from '../yup'
import {
  applyChange,
  ChangeRefused,
  itemsOf,
  thingAt,
  type Applied,
  type Fields,
  type SheetChange,
  type SheetItem,
  type SheetList,
  type SheetPlace,
} from '../../core/sheet/change'
import { SHEET_PARTS, type SheetContent } from '../../core/sheet/content'
import { combinedVariants } from '../../core/factors/combinations'
import { EDIT_FIELDS, editSchema } from '../edits/edit'
import { combinationOffSchema, factorSchema, levelSchema, sheetPageRuleSchema, variantSchema } from './sheetParts'
import { metricSchema } from '../metrics/metricSchema'
import { planSchema } from './planSchema'
import { sheetContentSchema } from './experiment'

const ITEMS: Record<SheetList['part'], Schema> = {
  pageRules: sheetPageRuleSchema,
  variants: variantSchema,
  metrics: metricSchema,
  factors: factorSchema,
  levels: levelSchema,
  combinationsOff: combinationOffSchema,
  edits: editSchema,
}
/** Fields that are changed one by one; lists of things have changes of their own. */
const FIELDS: Record<SheetPlace['part'], readonly string[]> = {
  sheet: ['name', 'hypothesis', 'audience', 'share', 'terms'],
  plan: Object.keys(planSchema.fields),
  pageRules: ['match', 'value', 'part', 'parameter', 'isExcluded', 'ignoresCase', 'isStrictSlash'],
  variants: ['name', 'weight'],
  metrics: ['name', 'kind', 'source', 'denominator', 'cap', 'windowDays', 'direction', 'role', 'limit'],
  factors: ['name'],
  levels: ['name'],
  combinationsOff: [],
  edits: EDIT_FIELDS,
}

const id = () =>
  string()
    .strict()
    .matches(/^[\w-]{6,40}$/, 'Name a thing by its id.')
const LISTS = ['pageRules', 'variants', 'metrics', 'factors', 'combinationsOff', 'levels', 'edits'] as const
/** What names the thing that a list is in. */
const holder = {
  variant: id().when('part', { is: 'edits', then: (schema) => schema.required('Say of which variant.') }),
  factor: id().when('part', { is: 'levels', then: (schema) => schema.required('Say of which factor.') }),
}
const list = object({
  part: string().oneOf(LISTS, 'There is no such list on a sheet.').required('Say in which list.'),
  ...holder,
})
const place = object({
  part: string()
    .oneOf(['sheet', 'plan', ...LISTS] as const, 'There is no such part of a sheet.')
    .required('Say what is changed.'),
  ...holder,
  id: id().when('part', {
    is: (part: unknown) => part !== 'sheet' && part !== 'plan',
    then: (schema) => schema.required('Say which one.'),
  }),
})
/** Fields by their names, of any kind: what they hold is checked with the thing that they belong to. */
const fields = mixed<Fields>((value): value is Fields => isPlain(value))
  .typeError('Give the fields as an object.')
  .required('Give the fields.')
const item = mixed<Fields & { id: string }>(
  (value): value is Fields & { id: string } => isPlain(value) && typeof (value as { id?: unknown }).id === 'string',
)
  .typeError('Give the thing with its id.')
  .required('Give the thing with its id.')
const before = id().nullable().default(null)
const kind = <Name extends string>(name: Name) =>
  string()
    .oneOf([name] as const)
    .required()

const KINDS = {
  set: object({ do: kind('set'), of: place, from: fields, to: fields }),
  add: object({ do: kind('add'), list, item, before }),
  remove: object({ do: kind('remove'), list, item }),
  move: object({ do: kind('move'), list, id: id().required('Say which one.'), before }),
  replace: object({ do: kind('replace'), from: fields, to: fields }),
}

/** The form of a change. Whether it applies to a sheet, `prepareChange` says. */
export const sheetChangeSchema = lazy((change: { do?: unknown } | null | undefined) => {
  const form = Object.keys(KINDS).find((each) => each === change?.do) as keyof typeof KINDS | undefined
  if (form) return KINDS[form]
  return object({
    do: string()
      .oneOf(Object.keys(KINDS), `A change is one of: ${Object.keys(KINDS).join(', ')}.`)
      .required('Say what the change does.'),
  }).required('Say what is changed.')
})

export const changeRequestSchema = object({
  /** Drawn where the change is made: sent again, it counts once. */
  id: string().strict().uuid('A change has a UUID for its id.').required('Give the change an id.'),
  change: sheetChangeSchema,
})

export interface Prepared extends Applied {
  /** The change as it is kept: trimmed, with defaults filled in. */
  change: SheetChange
}

/**
 * Checks a change against the sheet that it is made on, and applies it.
 *
 * @throws ValidationError by field of the thing that is changed; ChangeRefused where it does not apply any more
 */
export function prepareChange(content: SheetContent, change: SheetChange): Prepared {
  const settled = settle(content, change)
  const applied = applyChange(content, settled)
  checkLists(applied.content, settled)
  return { ...applied, change: settled }
}

/** The change with what it writes checked, and brought into the form that is kept. */
function settle(content: SheetContent, change: SheetChange): SheetChange {
  switch (change.do) {
    case 'set': {
      const { of: where, to } = change
      refuseUnknown(Object.keys(to), FIELDS[where.part])
      refuseUnknown(Object.keys(change.from), FIELDS[where.part])
      const thing = thingAt(content, where)
      if (!thing) return change
      const checked = check(schemaOf(where), { ...thing, ...to }, Object.keys(to))
      return { ...change, to: Object.fromEntries(Object.keys(to).map((field) => [field, checked[field] ?? null])) }
    }
    case 'add':
      return { ...change, item: check(ITEMS[change.list.part], change.item) as unknown as SheetItem }
    case 'replace':
      refuseUnknown(Object.keys(change.to), SHEET_PARTS)
      refuseUnknown(Object.keys(change.from), SHEET_PARTS)
      return {
        ...change,
        from: known(sheetContentSchema.pick(Object.keys(change.from) as 'name'[]), change.from),
        to: settledParts(change.to),
      }
    case 'remove':
      return { ...change, item: known(ITEMS[change.list.part], change.item) as unknown as SheetItem }
    default:
      return change
  }
}

/** Parts with what they write checked; variants that follow from factors are not written, but made. */
function settledParts(to: Partial<SheetContent>): Partial<SheetContent> {
  const isMade = !!to.factors?.length
  const written = Object.keys(to).filter((part) => !isMade || part !== 'variants')
  const parts: Partial<SheetContent> = check(sheetContentSchema.pick(written as 'name'[]), pick(to, written))
  const { factors = [], combinationsOff = [] } = parts
  return isMade ? { ...parts, variants: combinedVariants({ factors, combinationsOff }) } : parts
}

function pick(from: object, names: readonly string[]): Fields {
  return Object.fromEntries(names.map((name) => [name, Reflect.get(from, name) as unknown]))
}

function schemaOf({ part }: SheetPlace): Schema {
  if (part === 'sheet') return sheetContentSchema.pick(['name', 'hypothesis', 'audience', 'share', 'terms'])
  return part === 'plan' ? planSchema : ITEMS[part]
}

const LISTS_OF_SHEET = ['pageRules', 'variants', 'metrics', 'factors', 'combinationsOff'] as const

/** Rules that concern a whole list: how long it may be, ids that occur once, one primary metric. */
function checkLists(content: SheetContent, change: SheetChange): void {
  const lists: SheetList[] =
    change.do === 'set'
      ? change.of.part === 'metrics'
        ? [{ part: 'metrics' }]
        : []
      : change.do === 'replace'
        ? LISTS_OF_SHEET.filter(
            (part) => part in change.to && (part !== 'variants' || content.factors.length === 0),
          ).map((part) => ({ part }))
        : change.list.part === 'levels'
          ? [change.list, { part: 'factors' }]
          : [change.list]
  for (const each of lists) {
    const items = itemsOf(content, each) ?? []
    if (new Set(items.map((one) => one.id)).size < items.length)
      throw new ChangeRefused('Two things of one list have the same id.')
    const schema =
      each.part === 'edits'
        ? variantSchema.fields.edits
        : each.part === 'levels'
          ? factorSchema.fields.levels
          : sheetContentSchema.fields[each.part]
    // Items have been checked before; what may be wrong here is the list.
    check(object({ list: (schema as unknown as ReturnType<typeof array>).clone() }), { list: items })
  }
}

/** What a schema makes of a value. Only what is wrong with the named fields counts, where there are names. */
function check(schema: Schema, value: unknown, fields?: readonly string[]): Fields {
  try {
    return schema.validateSync(value, { abortEarly: false, stripUnknown: true }) as Fields
  } catch (error) {
    if (!(error instanceof ValidationError) || !fields) throw error
    const all = error.inner.length > 0 ? error.inner : [error]
    // That an edit as a whole is sound is said of its kind.
    const own = all.filter(({ path }) => ['kind', ...fields].includes((path ?? '').split(/[.[]/)[0]!))
    if (own.length > 0) throw new ValidationError(own)
    // What was wrong before, elsewhere in the same thing, does not keep this field from being saved.
    return known(schema, value)
  }
}

/** A value as it was read, without what follows from it. */
function known(schema: Schema, value: unknown): Fields {
  return (schema as ObjectSchema<Fields>).cast(value, { assert: false, stripUnknown: true }) as Fields
}

function refuseUnknown(names: readonly string[], all: readonly string[]): void {
  const unknown = names.find((name) => !all.includes(name))
  if (unknown !== undefined) throw new ChangeRefused(`“${unknown}” is nothing that can be changed here.`)
}

function isPlain(value: unknown): boolean {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
