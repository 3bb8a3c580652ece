/**
 * Whether two values say the same: like fields whatever their order, and a field that is absent, undefined or null
 * alike. So a value that went through a database or JSON is still the same.
 *
 * @example isSame({ a: 1, b: null }, { a: 1 }) // true
 * @example isSame([1, 2], [2, 1]) // false
 */
export function isSame(one: unknown, other: unknown): boolean {
  if (one === other || (isAbsent(one) && isAbsent(other))) return true
  if (typeof one !== 'object' || typeof other !== 'object' || one === null || other === null) return false
  if (Array.isArray(one) !== Array.isArray(other)) return false
  if (Array.isArray(one) && one.length !== (other as unknown[]).length) return false
  const names = new Set([...Object.keys(one), ...Object.keys(other)])
  return [...names].every((name) => isSame(Reflect.get(one, name), Reflect.get(other, name)))
}

function isAbsent(value: unknown): boolean {
  return value === null || value === undefined
}
