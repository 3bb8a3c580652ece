import { setLocale } from 'yup'

/**
 * Yup with plain sentences where a schema says nothing of its own: no message of a library ever reaches a person.
 * Schemas take everything of Yup from here, so that the sentences are there before the first schema is made.
 */
const KINDS: Record<string, string> = {
  string: 'Type a text.',
  number: 'Type a number.',
  boolean: 'Say yes or no.',
  array: 'Give a list.',
  object: 'Give a whole entry with its fields.',
}
const count = (value: number, unit: string) => `${value.toLocaleString('en-US')} ${unit}${value === 1 ? '' : 's'}`
const FILL_IN = 'Fill this in.'
const CHECK = 'Check how this is written.'

setLocale({
  mixed: {
    default: CHECK,
    required: FILL_IN,
    defined: FILL_IN,
    notNull: FILL_IN,
    oneOf: 'Choose one of the values that there are.',
    notOneOf: 'Choose another value.',
    notType: ({ type }: { type: string }) => KINDS[type] ?? CHECK,
  },
  string: {
    length: ({ length }: { length: number }) => `Type ${count(length, 'character')}.`,
    min: ({ min }: { min: number }) => `Type at least ${count(min, 'character')}.`,
    max: ({ max }: { max: number }) => `Type at most ${count(max, 'character')}.`,
    matches: CHECK,
    email: 'Type an e-mail address, such as mara@example.test.',
    url: 'Type an address with https://.',
    uuid: CHECK,
    datetime: 'Type a date and time.',
    trim: 'Leave out the spaces around it.',
    lowercase: 'Type it in small letters.',
    uppercase: 'Type it in capitals.',
  },
  number: {
    min: ({ min }: { min: number }) => `Type ${min} or more.`,
    max: ({ max }: { max: number }) => `Type ${max} or less.`,
    lessThan: ({ less }: { less: number }) => `Type less than ${less}.`,
    moreThan: ({ more }: { more: number }) => `Type more than ${more}.`,
    positive: 'Type a number above 0.',
    negative: 'Type a number below 0.',
    integer: 'Type a whole number.',
  },
  boolean: { isValue: 'Say yes or no.' },
  object: {
    noUnknown: ({ unknown }: { unknown: string[] | string }) => `Leave out ${String(unknown)}: there is no such field.`,
  },
  array: {
    min: ({ min }: { min: number }) => `Give at least ${min}.`,
    max: ({ max }: { max: number }) => `Give at most ${max}.`,
    length: ({ length }: { length: number }) => `Give ${length}.`,
  },
})

export * from 'yup'
