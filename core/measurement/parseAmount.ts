/**
 * The first amount of money in a text, with either kind of decimal mark.
 * Where one mark stands alone before exactly three digits (`1.234`), it is read as a thousands mark.
 *
 * @param text - what an element shows, such as `Total: € 1,284.50`
 * @returns the amount, or null when the text holds no digits
 * @example parseAmount('1.284,50 €') // 1284.5
 * @example parseAmount('€ 84') // 84
 */
export function parseAmount(text: string): number | null {
  const found = /-?\d(?:[\d.,'\u00a0\u202f ]*\d)?/.exec(text)
  if (!found) return null
  const digits = found[0].replace(/['\u00a0\u202f ]/g, '')
  const mark = Math.max(digits.lastIndexOf('.'), digits.lastIndexOf(','))
  if (mark < 0) return Number(digits)
  const marks = digits.replace(/[^.,]/g, '')
  const oneKind = marks.replaceAll(marks[0]!, '') === ''
  const isThousands = oneKind && (marks.length > 1 || digits.length - mark - 1 === 3)
  const amount = isThousands
    ? Number(digits.replace(/[.,]/g, ''))
    : Number(`${digits.slice(0, mark).replace(/[.,]/g, '')}.${digits.slice(mark + 1)}`)
  return Number.isFinite(amount) ? amount : null
}
