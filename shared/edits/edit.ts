import { lazy, object, string } from '../yup'
import { selectorSchema } from '../selector'
import { textEditFields } from './text'

/** Fields of each kind of edit, beside its id and its element. */
const FIELDS = { text: textEditFields }

const KINDS = Object.keys(FIELDS) as (keyof typeof FIELDS)[]

const idSchema = string()
  .strict()
  .matches(/^[\w-]{8,40}$/, 'An edit has an id of 8 to 40 letters and digits.')
  .required()

/** An edit as it is sent: the kind says which fields belong to it. */
export const editSchema = lazy((edit: { kind?: unknown } | undefined) => {
  const kind = KINDS.find((each) => each === edit?.kind)
  const base = { id: idSchema, selector: selectorSchema }
  return kind
    ? object({
        ...base,
        kind: string()
          .oneOf([kind] as const)
          .required(),
        ...FIELDS[kind],
      })
    : object({
        ...base,
        kind: string()
          .oneOf(KINDS, `An edit is one of: ${KINDS.join(', ')}.`)
          .required('Say what kind of edit it is.'),
        ...FIELDS.text,
      })
})
