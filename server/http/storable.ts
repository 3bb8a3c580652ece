import { isStorable } from '../../shared/intake/guards'

/**
 * Whether a database can hold every text of a value, names of fields among them: JSON may carry NUL and halves of
 * characters, which a text of the database may not.
 *
 * @param value - as `JSON.parse` returns it
 */
export function holdsStorableTexts(value: unknown): boolean {
  if (typeof value === 'string') return isStorable(value)
  if (typeof value !== 'object' || value === null) return true
  if (Array.isArray(value)) return value.every(holdsStorableTexts)
  return Object.entries(value).every(([name, each]) => isStorable(name) && holdsStorableTexts(each))
}
