import type { Edit } from '../edits/content'
import { editName } from '../edits/edit'
import { isSame } from './isSame'
import { allCombinations, combinedVariants } from '../factors/combinations'
import type {
  SheetContent,
  SheetFactor,
  SheetLevel,
  SheetMetric,
  SheetPageRule,
  SheetPart,
  SheetVariant,
} from './content'

/** A list of things on a sheet. */
export type SheetList =
  | { part: 'pageRules' | 'variants' | 'metrics' | 'factors' | 'combinationsOff' }
  | { part: 'levels'; factor: string }
  /** Of a variant, or of a level of a multivariate test. */
  | { part: 'edits'; variant: string }
/** One thing on a sheet. */
export type SheetPlace = { part: 'sheet' } | { part: 'plan' } | (SheetList & { id: string })
export type SheetItem = SheetPageRule | SheetVariant | SheetMetric | SheetFactor | SheetLevel | { id: string } | Edit
export type Fields = Record<string, unknown>

/**
 * A change of one thing on a sheet. It carries what it was made on top of, so that it applies only where that still
 * stands: two people never overwrite each other without knowing.
 */
export type SheetChange =
  | { do: 'set'; of: SheetPlace; from: Fields; to: Fields }
  /** `before` names the item that it stands before; null for the end. */
  | { do: 'add'; list: SheetList; item: SheetItem; before: string | null }
  | { do: 'remove'; list: SheetList; item: SheetItem }
  | { do: 'move'; list: SheetList; id: string; before: string | null }
  | { do: 'replace'; from: Partial<SheetContent>; to: Partial<SheetContent> }

export interface Applied {
  content: SheetContent
  /** The change that takes this one back. */
  inverse: SheetChange
}

/** A change that no longer applies, with the reason in a sentence. */
export class ChangeRefused extends Error {}

const THINGS: Record<SheetList['part'], string> = {
  pageRules: 'address',
  variants: 'variant',
  metrics: 'metric',
  factors: 'factor',
  levels: 'level',
  combinationsOff: 'combination',
  edits: 'edit',
}

/**
 * Applies a change to a sheet's content.
 *
 * @param content - left as it is
 * @returns the content with the change, and the change that leads back to exactly what was before
 * @throws ChangeRefused where what the change was made on top of is there no more
 *
 * @example applyChange(content, { do: 'set', of: { part: 'sheet' }, from: { name: 'A' }, to: { name: 'B' } })
 * // { content: { …, name: 'B' }, inverse: { do: 'set', of: { part: 'sheet' }, from: { name: 'B' }, to: { name: 'A' } } }
 */
export function applyChange(content: SheetContent, change: SheetChange): Applied {
  refuseCombination(content, change)
  const applied = applyToParts(content, change)
  const { factors } = applied.content
  refuseOtherKind(content, applied.content, change)
  if (factors.length === 0 || !partsOf(change).includes('variants')) return applied
  return { ...applied, content: { ...applied.content, variants: combinedVariants(applied.content) } }
}

function applyToParts(content: SheetContent, change: SheetChange): Applied {
  switch (change.do) {
    case 'set':
      return setFields(content, change)
    case 'add':
      return addItem(content, change)
    case 'remove':
      return removeItem(content, change)
    case 'move':
      return moveItem(content, change)
    case 'replace':
      return replaceParts(content, change)
  }
}

/** The parts of a sheet that a change touches. */
export function partsOf(change: SheetChange): SheetPart[] {
  switch (change.do) {
    case 'set':
      return change.of.part === 'sheet' ? (Object.keys(change.to) as SheetPart[]) : partsAt(change.of)
    case 'replace':
      return [...new Set(Object.keys(change.to).flatMap((part) => partsAt({ part: part as 'factors' })))]
    default:
      return partsAt(change.list)
  }
}

/** The variants of a multivariate test follow from its factors. */
function partsAt({ part }: SheetList | { part: 'plan' }): SheetPart[] {
  if (part === 'edits' || part === 'levels') return ['factors', 'variants']
  return part === 'factors' || part === 'combinationsOff' ? [part, 'variants'] : [part]
}

/** What follows from the factors is changed there. */
function refuseCombination({ factors }: SheetContent, change: SheetChange): void {
  if (factors.length === 0 || change.do === 'replace') return
  const { part } = change.do === 'set' ? change.of : change.list
  if (part === 'variants')
    throw new ChangeRefused('The variants of a multivariate test are the combinations of its levels: change those.')
}

/** Variants of another kind of test come together with its factors, so that there is a way back to those before. */
function refuseOtherKind(before: SheetContent, { factors }: SheetContent, change: SheetChange): void {
  if (before.factors.length > 0 === factors.length > 0) return
  if (change.do !== 'replace' || !('variants' in change.to))
    throw new ChangeRefused(
      factors.length > 0
        ? 'Make this a multivariate test first: factors belong to that.'
        : 'A multivariate test has factors. Make it an A/B test to be without.',
    )
}

/** The thing at a place: an item of a list, the plan, or the sheet itself; null when it is not there. */
export function thingAt(content: SheetContent, place: SheetPlace): Fields | null {
  if (place.part === 'sheet') return content as unknown as Fields
  if (place.part === 'plan') return content.plan as unknown as Fields
  return (itemsOf(content, place)?.find(({ id }) => id === place.id) as Fields | undefined) ?? null
}

/** The items of a list; null where the variant that holds them is gone. */
export function itemsOf(content: SheetContent, list: SheetList): SheetItem[] | null {
  switch (list.part) {
    case 'edits':
      return editedThings(content).find(({ id }) => id === list.variant)?.edits ?? null
    case 'levels':
      return content.factors.find(({ id }) => id === list.factor)?.levels ?? null
    default:
      return content[list.part]
  }
}

/** What has edits: the levels of a multivariate test, else the variants. */
function editedThings({ factors, variants }: SheetContent): readonly (SheetLevel | SheetVariant)[] {
  return factors.length > 0 ? factors.flatMap(({ levels }) => levels) : variants
}

/** What a person calls a thing of a sheet. */
export function nameOf(content: SheetContent, list: SheetList, item: Fields | SheetItem): string {
  if (list.part === 'edits') return `the edit “${editName(item as Edit)}”`
  if (list.part === 'combinationsOff') {
    const found = allCombinations(content.factors, []).find(({ id }) => id === (item as { id: string }).id)
    return found ? `the combination “${found.name}”` : 'a combination that is gone'
  }
  const { name, value } = item as Fields
  return `the ${THINGS[list.part]} “${String(name ?? value)}”`
}

function setFields(content: SheetContent, change: Extract<SheetChange, { do: 'set' }>): Applied {
  const { of: place, from, to } = change
  const thing = thingAt(content, place)
  if (!thing) throw gone(place)
  for (const [field, expected] of Object.entries(from)) {
    if (!isSame(thing[field], expected))
      throw new ChangeRefused('This has been changed since: it is no longer what the change was made from.')
  }
  const fields = Object.fromEntries(Object.keys(to).map((field) => [field, thing[field] ?? null]))
  return {
    content: withThing(content, place, { ...thing, ...to }),
    inverse: { do: 'set', of: place, from: to, to: fields },
  }
}

function addItem(content: SheetContent, change: Extract<SheetChange, { do: 'add' }>): Applied {
  const { list, item, before } = change
  const items = itemsOf(content, list)
  if (!items) throw goneHolder(list)
  if (items.some(({ id }) => id === item.id))
    throw new ChangeRefused(`${capital(nameOf(content, list, item))} is there already.`)
  return {
    content: withItems(content, list, inserted(items, item, before)),
    inverse: { do: 'remove', list, item },
  }
}

function removeItem(content: SheetContent, change: Extract<SheetChange, { do: 'remove' }>): Applied {
  const { list, item } = change
  const items = itemsOf(content, list)
  const at = items?.findIndex(({ id }) => id === item.id) ?? -1
  if (!items || at < 0) throw gone(list)
  if (!isSame(items[at], item))
    throw new ChangeRefused(`${capital(nameOf(content, list, items[at]!))} has been changed since, so it stays.`)
  return {
    content: withItems(content, list, items.toSpliced(at, 1)),
    inverse: { do: 'add', list, item: items[at]!, before: items[at + 1]?.id ?? null },
  }
}

function moveItem(content: SheetContent, change: Extract<SheetChange, { do: 'move' }>): Applied {
  const { list, id, before } = change
  const items = itemsOf(content, list)
  const at = items?.findIndex((item) => item.id === id) ?? -1
  if (!items || at < 0) throw gone(list)
  const moved = id === before ? items : inserted(items.toSpliced(at, 1), items[at]!, before)
  return {
    content: withItems(content, list, moved),
    inverse: { do: 'move', list, id, before: items[at + 1]?.id ?? null },
  }
}

function replaceParts(content: SheetContent, change: Extract<SheetChange, { do: 'replace' }>): Applied {
  for (const [part, expected] of Object.entries(change.from)) {
    if (!isSame(content[part as SheetPart], expected))
      throw new ChangeRefused('This sheet has been changed since. Read it again, then make the change anew.')
  }
  const parts = Object.fromEntries(Object.keys(change.to).map((part) => [part, content[part as SheetPart]]))
  return {
    content: { ...content, ...change.to },
    inverse: { do: 'replace', from: change.to, to: parts },
  }
}

/** Where the item to stand before is gone, the new one goes to the end. */
function inserted<Item extends { id: string }>(items: readonly Item[], item: Item, before: string | null): Item[] {
  const at = items.findIndex(({ id }) => id === before)
  return items.toSpliced(at < 0 ? items.length : at, 0, item)
}

function withThing(content: SheetContent, place: SheetPlace, thing: Fields): SheetContent {
  if (place.part === 'sheet') return thing as unknown as SheetContent
  if (place.part === 'plan') return { ...content, plan: thing as unknown as SheetContent['plan'] }
  const items = itemsOf(content, place) ?? []
  return withItems(
    content,
    place,
    items.map((item) => (item.id === place.id ? (thing as unknown as SheetItem) : item)),
  )
}

function withItems(content: SheetContent, list: SheetList, items: SheetItem[]): SheetContent {
  if (list.part === 'levels') {
    const withLevels = (factor: SheetFactor) =>
      factor.id === list.factor ? { ...factor, levels: items as SheetLevel[] } : factor
    return { ...content, factors: content.factors.map(withLevels) }
  }
  if (list.part !== 'edits') return { ...content, [list.part]: items }
  const withEdits = <Thing extends { id: string }>(thing: Thing) =>
    thing.id === list.variant ? { ...thing, edits: items as Edit[] } : thing
  return content.factors.length > 0
    ? {
        ...content,
        factors: content.factors.map((factor) => ({ ...factor, levels: factor.levels.map(withEdits) })),
      }
    : { ...content, variants: content.variants.map(withEdits) }
}

function gone({ part }: SheetList | SheetPlace): ChangeRefused {
  return new ChangeRefused(`This ${part in THINGS ? THINGS[part as SheetList['part']] : 'part'} is not there any more.`)
}

function goneHolder({ part }: SheetList): ChangeRefused {
  return new ChangeRefused(
    part === 'levels'
      ? 'The factor of this level is not there any more.'
      : 'The variant of this edit is not there any more.',
  )
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
