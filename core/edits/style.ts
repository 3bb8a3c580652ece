import { describeElement, type OfElement } from './element'
import { mergeValues, type EditKind } from './kind'

/** Values of CSS properties, by their names. */
export type Declarations = Record<string, string>

/** Changes how one element looks. */
export interface StyleEdit extends OfElement {
  kind: 'style'
  value: Declarations
  /** What the same properties were, as the browser computed them. */
  original: Declarations
}

const MOST_PROPERTIES = 60
const NAMES: Record<string, string> = {
  'background-color': 'background',
  color: 'color',
  'font-size': 'size of the type',
  'font-weight': 'weight of the type',
  'text-align': 'alignment',
}

export const styleKind: EditKind<StyleEdit> = {
  problems({ value }) {
    const problems: string[] = []
    const names = Object.keys(value)
    if (names.length === 0) problems.push('Nothing about the look is changed yet.')
    if (names.length > MOST_PROPERTIES) problems.push(`At most ${MOST_PROPERTIES} properties can be set.`)
    for (const [name, setting] of Object.entries(value)) {
      const problem = declarationProblem(name, setting)
      if (problem) problems.push(problem)
    }
    return problems
  },
  describe(edit) {
    const settings = Object.entries(edit.value).map(([name, value]) => `${NAMES[name] ?? name} ${value}`)
    return `Look of ${describeElement(edit)}: ${settings.slice(0, 4).join(', ')}${settings.length > 4 ? ' …' : ''}`
  },
  changes: ({ selector }) => `style ${selector}`,
  merge: (earlier, later) =>
    mergeValues(earlier, {
      ...later,
      value: { ...earlier.value, ...later.value },
      original: { ...later.original, ...earlier.original },
    }),
}

/** Why a property cannot be set so; null where it can. */
export function declarationProblem(name: string, value: string): string | null {
  if (!/^(--)?[a-z][\w-]{0,60}$/i.test(name)) return `“${name}” is not the name of a CSS property.`
  if (!value.trim()) return `Give ${name} a value.`
  if (value.length > 500) return `The value of ${name} is longer than 500 characters.`
  return /[;{}]|javascript:|expression\(/i.test(value) ? `“${value}” is not one value of ${name}.` : null
}

/**
 * Declarations as they are typed in CSS: one a line, or set apart by semicolons.
 *
 * @returns the declarations, and what could not be read
 * @example parseDeclarations('color: red; margin: 0') // { declarations: { color: 'red', margin: '0' }, problems: [] }
 */
export function parseDeclarations(css: string): { declarations: Declarations; problems: string[] } {
  const declarations: Declarations = {}
  const problems: string[] = []
  for (const part of css.split(/;|\n/)) {
    if (!part.trim()) continue
    const at = part.indexOf(':')
    const name = part.slice(0, Math.max(at, 0)).trim().toLowerCase()
    const value = part.slice(at + 1).trim()
    const problem = at < 0 ? `“${part.trim()}” has no colon. Write it as color: red.` : declarationProblem(name, value)
    if (problem) problems.push(problem)
    else declarations[name] = value.replace(/\s*!important$/i, '')
  }
  return { declarations, problems }
}
