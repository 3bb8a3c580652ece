import { array, boolean, lazy, mixed, number, object, string, type ObjectShape } from '../yup'
import { LONGEST_ATTRIBUTE } from '../../core/edits/attribute'
import { LONGEST_CODE } from '../../core/edits/code'
import { isOfElement, type EditContent, type EditKindName } from '../../core/edits/content'
import { EDIT_KINDS, editProblems } from '../../core/edits/edit'
import { LONGEST_CLUE } from '../../core/edits/element'
import { PLACES } from '../../core/edits/insert'
import { LONGEST_MARKUP } from '../../core/edits/markup'
import type { Declarations } from '../../core/edits/style'
import { LONGEST_TEXT } from '../../core/edits/text'
import { widthsProblem } from '../../core/edits/widths'
import { pageRuleSchema } from '../audiences/pageRule'
import { selectorSchema } from './selector'

const LONGEST_ORIGINAL = 20_000
const textOf = (longest: number, what: string) =>
  string()
    .strict()
    .max(longest, `The ${what} is longer than ${longest.toLocaleString('en-US')} characters.`)
    .defined()
const original = textOf(LONGEST_ORIGINAL, 'original text')
const clue = string().strict().max(LONGEST_CLUE, `A clue has at most ${LONGEST_CLUE} characters.`).defined()

const cluesSchema = object({
  tag: string()
    .strict()
    .matches(/^[\w:.-]{1,60}$/, 'The tag of the element is no tag.')
    .required(),
  role: string().strict().max(40).nullable(),
  text: clue,
  before: clue,
  after: clue,
})
  .nullable()
  .default(undefined)

const pictureSchema = object({ address: textOf(2000, 'address'), alt: textOf(500, 'description') })

/** Their names are the properties; what they may hold is said by `core/edits/style.ts`. */
const declarationsSchema = mixed<Declarations>(
  (value): value is Declarations =>
    typeof value === 'object' && Object.values(value as object).every((each) => typeof each === 'string'),
).required('Say what is changed about the look.')

const places = string()
  .oneOf(PLACES, `A place is one of: ${PLACES.join(', ')}.`)
  .required()
const classNames = array(string().strict().required()).max(30, 'At most 30 classes can be named.').required()

/** What each kind of edit has beside what all have. */
const FIELDS: Record<EditKindName, ObjectShape> = {
  text: { value: textOf(LONGEST_TEXT, 'text'), original },
  richText: { value: textOf(LONGEST_MARKUP, 'text'), original },
  html: { value: textOf(LONGEST_MARKUP, 'HTML'), original: textOf(200_000, 'original HTML') },
  insert: { value: textOf(LONGEST_MARKUP, 'HTML'), place: places },
  attribute: {
    name: string().strict().max(100).required('Name the attribute.'),
    value: textOf(LONGEST_ATTRIBUTE, 'value').nullable(),
    original: original.nullable(),
  },
  image: { value: pictureSchema, original: pictureSchema },
  style: { value: declarationsSchema, original: declarationsSchema },
  classes: { add: classNames, remove: classNames },
  move: { to: selectorSchema, toClues: cluesSchema, place: places },
  rearrange: { order: array(number().integer().min(0).required()).max(500).required() },
  hide: { keepsSpace: boolean().required() },
  remove: {},
  css: { value: textOf(LONGEST_CODE, 'stylesheet') },
  script: { value: textOf(LONGEST_CODE, 'script') },
  redirect: { value: textOf(2000, 'address') },
}

const bound = number().strict().nullable().defined()
const widthsSchema = object({ from: bound, below: bound })
  .nullable()
  .default(undefined)
  .test('window', (widths, context) => {
    const problem = widths && widthsProblem(widths)
    return problem ? context.createError({ message: problem }) : true
  })

const MARKS = {
  id: string()
    .strict()
    .matches(/^[\w-]{8,40}$/, 'An edit has an id of 8 to 40 letters and digits.')
    .required(),
  title: string().trim().max(80, 'The name of an edit is longer than 80 characters.').nullable(),
  isOff: boolean().nullable(),
  page: pageRuleSchema.nullable().default(undefined),
  widths: widthsSchema,
}

/** What can be changed about an edit, of whichever kind. */
export const EDIT_FIELDS: readonly string[] = [
  ...new Set([...Object.values(FIELDS).flatMap((fields) => Object.keys(fields)), 'selector', 'clues']),
  ...['title', 'isOff', 'page', 'widths'],
]

/** Texts are kept while they are being written; preflight tells what is missing. */
const WRITTEN = new Set<EditKindName>(['text', 'richText'])

/** An edit as it is sent: the kind says which fields belong to it. */
export const editSchema = lazy((edit: { kind?: unknown } | undefined) => {
  const kind = EDIT_KINDS.find((each) => each === edit?.kind)
  const ofElement: ObjectShape = !kind || isOfElement({ kind }) ? { selector: selectorSchema, clues: cluesSchema } : {}
  const kinds = kind ? ([kind] as const) : EDIT_KINDS
  return object({
    ...MARKS,
    ...ofElement,
    kind: string()
      .oneOf(kinds, `An edit is one of: ${EDIT_KINDS.join(', ')}.`)
      .required('Say what kind of edit it is.'),
    ...FIELDS[kind ?? 'text'],
  }).test('sound', (sent, context) => {
    if (!kind) return true
    const problems = editProblems(sent as unknown as EditContent)
    const [refused] =
      kind === 'richText' ? problems.filter((each) => !/empty|same as/.test(each)) : WRITTEN.has(kind) ? [] : problems
    return refused
      ? context.createError({ path: context.path ? `${context.path}.kind` : 'kind', message: refused })
      : true
  })
})
