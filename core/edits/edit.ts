import { describeText, invertText, mergeTexts, textProblems, type TextEdit } from './text'

/** One change of a page, by its kind. Further kinds join this union, each with a module of its own. */
export type EditContent = TextEdit

/** An edit as it is kept: with an id that stays the same whatever is changed about it. */
export type Edit = EditContent & { id: string }

/** What a browser needs of an edit: what to do, and not what was there before. */
export type DeliveredEdit = WithoutHistory<EditContent>
type WithoutHistory<Content> = Content extends EditContent ? Omit<Content, 'original'> : never

const LONGEST_SELECTOR = 500

interface EditKind<Content extends EditContent> {
  problems: (edit: Content) => string[]
  describe: (edit: Content) => string
  invert: (edit: Content) => Content
  /** One edit for two that change the same; null when they cancel out. */
  merge: (earlier: Content, later: Content) => Content | null
}

const KINDS: { [Kind in EditContent['kind']]: EditKind<Extract<EditContent, { kind: Kind }>> } = {
  text: { problems: textProblems, describe: describeText, invert: invertText, merge: mergeTexts },
}

/**
 * What is wrong with an edit, in words for the person who made it.
 *
 * @returns an empty list when the edit can be applied
 */
export function editProblems(edit: EditContent): string[] {
  const problems: string[] = []
  if (!edit.selector.trim()) problems.push('The edit names no element. Point at one on the page.')
  if (edit.selector.length > LONGEST_SELECTOR) {
    problems.push(`The element's selector is longer than ${LONGEST_SELECTOR} characters.`)
  }
  return [...problems, ...KINDS[edit.kind].problems(edit)]
}

/**
 * One line that says what an edit does.
 *
 * @example describeEdit({ kind: 'text', selector: 'h1', original: 'Hello', value: 'Welcome' })
 * // 'Text of h1: “Hello” becomes “Welcome”'
 */
export function describeEdit(edit: EditContent): string {
  return KINDS[edit.kind].describe(edit)
}

/** The edit that undoes this one. Inverting twice gives the edit back. */
export function invertEdit<Any extends EditContent>(edit: Any): Any {
  return { ...edit, ...KINDS[edit.kind].invert(edit) }
}

/**
 * The edits in the order of being applied, with one for those that change the same thing.
 *
 * @returns a new list; the first mention of a thing keeps its place
 */
export function orderEdits<Any extends EditContent>(edits: readonly Any[]): Any[] {
  const byTarget = new Map<string, Any | null>()
  for (const edit of edits) {
    const target = `${edit.kind} ${edit.selector}`
    const earlier = byTarget.get(target)
    if (!earlier) byTarget.set(target, edit)
    else {
      const merged = KINDS[edit.kind].merge(earlier, edit)
      byTarget.set(target, merged && { ...edit, ...merged })
    }
  }
  return [...byTarget.values()].filter((edit) => edit !== null && edit.value !== edit.original) as Any[]
}
