import { isTimeOrderedId } from '../../core/identity/timeOrderedId'
import { SESSION_ID, VISITOR_ID } from './browserIds'

/**
 * Checks of what anybody may send any number of. They cost little whatever they are given, copy nothing, and say what
 * is wrong in words of their own: never in those of whoever sent it.
 */
export interface Guard<Value> {
  fits: (value: unknown) => boolean
  /** What to say after the name of what does not fit. */
  words: string
  readonly of?: Value
}
export type Fitting<Any> = Any extends Guard<infer Value> ? Value : never

type Guards = Readonly<Record<string, Guard<unknown>>>
type Shape<Needed extends Guards, Others extends Guards> = {
  [Name in keyof Needed]: Fitting<Needed[Name]>
} & { [Name in keyof Others]?: Fitting<Others[Name]> }

export interface ObjectGuard<Value> extends Guard<Value> {
  /** What is wrong, in words; null where nothing is. */
  problem: (value: unknown) => string | null
}

const guard = <Value>(words: string, fits: (value: unknown) => boolean): Guard<Value> => ({ fits, words })

/** A text that a database can hold: without NUL, and without halves of characters. */
export const isStorable = (text: string) => !text.includes('\0') && text.isWellFormed()

/** A text of so many characters. */
export const text = (most: number, least = 0) =>
  guard<string>(
    `is not a text of ${least} to ${most} characters`,
    (value) => typeof value === 'string' && value.length >= least && value.length <= most && isStorable(value),
  )

export const matching = (pattern: RegExp, words: string) =>
  guard<string>(words, (value) => typeof value === 'string' && pattern.test(value))

export const whole = (least: number, most: number) =>
  guard<number>(
    `is not a whole number from ${least} to ${most}`,
    (value) => Number.isSafeInteger(value) && (value as number) >= least && (value as number) <= most,
  )

export const amount = (most: number) =>
  guard<number>(
    `is not a number from -${most} to ${most}`,
    (value) => typeof value === 'number' && Math.abs(value) <= most,
  )

export const yesOrNo = guard<boolean>('is neither yes nor no', (value) => typeof value === 'boolean')

export const anything = guard<unknown>('', () => true)

export function oneOf<const Word extends string>(words: readonly Word[]): Guard<Word> {
  const known = new Set<unknown>(words)
  return guard(`is not one of ${words.join(', ')}`, (value) => known.has(value))
}

export const orNull = <Value>({ fits, words }: Guard<Value>) =>
  guard<Value | null>(`${words}, nor null`, (value) => value === null || fits(value))

export const listOf = <Value>(item: Guard<Value>, most: number, least = 0) =>
  guard<Value[]>(
    `is not a list of ${least} to ${most}, or one in it ${item.words}`,
    (value) => Array.isArray(value) && value.length >= least && value.length <= most && value.every(item.fits),
  )

/** Two numbers: of a place, or of a size. */
export const pair = (item: Guard<number>) => listOf(item, 2, 2)

/** Texts, numbers, yes or no, under names that are given by whoever sends them. */
export const named = (most: number, longestName: number, longestText: number) =>
  guard<Record<string, string | number | boolean>>(
    `are texts, numbers, yes or no, under at most ${most} names`,
    (value) =>
      isObject(value) &&
      Object.keys(value).length <= most &&
      Object.entries(value).every(
        ([name, each]) =>
          name.length <= longestName &&
          isStorable(name) &&
          ((typeof each === 'string' && each.length <= longestText && isStorable(each)) ||
            Number.isFinite(each) ||
            typeof each === 'boolean'),
      ),
  )

/** An object with the fields that are needed, perhaps the others, and nothing else. */
export function exactly<Needed extends Guards, Others extends Guards = Record<never, never>>(
  needed: Needed,
  others?: Others,
): ObjectGuard<Shape<Needed, Others>> {
  const fields = new Map([...Object.entries(needed), ...Object.entries(others ?? {})])
  const names = Object.keys(needed)
  function problem(value: unknown): string | null {
    if (!isObject(value)) return 'it is not an object'
    for (const name of Object.keys(value)) {
      const field = fields.get(name)
      if (!field) return 'it has a field that is not known'
      if (!field.fits(value[name])) return `${name} ${field.words}`
    }
    const missing = names.find((name) => !Object.hasOwn(value, name))
    return missing === undefined ? null : `${missing} is missing`
  }
  return { fits: (value) => problem(value) === null, words: 'has other fields than it should', problem }
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** Ids that browsers send; see `browserIds.ts`. */
export const visitorId = matching(VISITOR_ID, 'is not a visitor id')
export const sessionId = matching(SESSION_ID, 'is not a session id')
export const timeOrdered = guard<string>(
  'is not a UUID of version 7',
  (value) => typeof value === 'string' && isTimeOrderedId(value),
)
