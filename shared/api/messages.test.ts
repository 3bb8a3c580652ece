import fc from 'fast-check'
import { expect, test } from 'vitest'
import { ValidationError, type Schema } from 'yup'
import type { Operation } from './operation'
import { OPERATIONS } from './operations'
import { sheetContentSchema } from '../experiments/experiment'

/** What the library says where nobody has said it better. */
const RAW =
  /\b(must be|must match|must have|must contain|required field|cannot be null|cannot be defined|final value|unspecified|NaN|undefined)\b|\$\{|`/

const WORDS = [
  'name',
  'value',
  'kind',
  'source',
  'page',
  'match',
  'type',
  'selector',
  'reference',
  'parameter',
  'do',
  'of',
]
const MORE = [
  'part',
  'id',
  'to',
  'from',
  'item',
  'list',
  'before',
  'parts',
  'weight',
  'edits',
  'limit',
  'role',
  'variant',
]
const FIELDS = [...WORDS, ...MORE, 'metric', 'version', 'change', 'denominator', 'plan', 'share', 'variants', 'metrics']
const VALUES = fc.constantFrom<unknown>(
  ...[null, '', 'x', ' ', 'visit', 'click', 'pageAmount', 'set', 'add', 'move', 'plan', 'sheet', 'exact', 'ratio'],
  ...[0, -1, 1.5, 1e12, Number.NaN, true, [], [null], [[]], {}, { a: 1 }, 'y'.repeat(10_001), ['x'.repeat(600)]],
)

/** Names of the fields that a schema knows. */
function fieldsOf(schema: Schema): string[] {
  const found = new Set<string>()
  const collect = (description: unknown): void => {
    if (!description || typeof description !== 'object') return
    const { fields, innerType } = description as { fields?: Record<string, unknown>; innerType?: unknown }
    for (const [name, inner] of Object.entries(fields ?? {})) {
      found.add(name)
      collect(inner)
    }
    for (const each of Array.isArray(innerType) ? innerType : [innerType]) collect(each)
  }
  collect(schema.describe())
  return [...found]
}

function messagesFor(schema: Schema, input: unknown): string[] {
  try {
    schema.validateSync(input, { abortEarly: false, stripUnknown: true })
    return []
  } catch (error) {
    if (error instanceof ValidationError) return error.errors
    // The server answers these with a sentence of its own.
    if (error instanceof TypeError) return []
    throw error
  }
}

const schemas = [
  ...Object.entries(OPERATIONS as Record<string, Operation>).flatMap(([id, { body, query }]): [string, Schema][] => [
    ...(body ? [[`the body of ${id}`, body] satisfies [string, Schema]] : []),
    ...(query ? [[`the query of ${id}`, query] satisfies [string, Schema]] : []),
  ]),
  ['the content of a sheet', sheetContentSchema] satisfies [string, Schema],
]

test.each(schemas)('whatever is wrong with %s is told in words of ours', (_, schema) => {
  const own = fieldsOf(schema)
  const { node } = fc.letrec((tie) => ({
    node: fc.oneof({ maxDepth: 4 }, VALUES, tie('object'), fc.array(tie('object'), { maxLength: 2 })),
    object: fc.dictionary(fc.constantFrom(...own, ...FIELDS), tie('node'), { maxKeys: 6 }),
  }))
  const input = fc.dictionary(fc.constantFrom(...own, ...FIELDS), node, { maxKeys: 8 })
  fc.assert(
    fc.property(input, (value) => {
      for (const message of messagesFor(schema, value)) expect(message).not.toMatch(RAW)
    }),
    { numRuns: 400 },
  )
  for (const name of own)
    for (const value of [null, '', 7, {}, [], 'z'.repeat(20_000)])
      for (const message of messagesFor(schema, { [name]: value })) expect(message).not.toMatch(RAW)
})
