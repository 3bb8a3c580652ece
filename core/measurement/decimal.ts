/** A decimal number without rounding: digits × 10^−places. */
export interface Decimal {
  digits: bigint
  places: number
}

/**
 * A number as it is written.
 *
 * @param text - digits with or without a sign, a point and an exponent, as JavaScript and the database write numbers
 * @example parseDecimal('-1.50') // { digits: -150n, places: 2 }
 */
export function parseDecimal(text: string): Decimal {
  const [mantissa, exponent] = text.split('e') as [string, string?]
  const point = mantissa.indexOf('.')
  const digits = BigInt(mantissa.replace('.', ''))
  const places = (point < 0 ? 0 : mantissa.length - point - 1) - Number(exponent ?? 0)
  return places < 0 ? { digits: digits * BigInt(10) ** BigInt(-places), places: 0 } : { digits, places }
}

/** The digits of a number with more places than it has. */
export function scaled({ digits, places }: Decimal, to: number): bigint {
  return digits * BigInt(10) ** BigInt(to - places)
}

/**
 * A number with so many places, rounded half away from zero.
 *
 * @example rounded(parseDecimal('18.495'), 2) // 18.5
 */
export function rounded({ digits, places }: Decimal, to: number): number {
  if (places <= to) return Number(`${digits}e-${places}`)
  const unit = BigInt(10) ** BigInt(places - to)
  const size = digits < 0 ? -digits : digits
  const units = (size + unit / BigInt(2)) / unit
  return Number(`${digits < 0 ? -units : units}e-${to}`) || 0
}

/**
 * The sum of numbers as they are written, without rounding on the way.
 *
 * @example exactSum([1e6, 0.1, -1e6]) // 0.1
 */
export function exactSum(numbers: readonly number[]): number {
  const decimals = numbers.map((each) => parseDecimal(String(each)))
  const places = Math.max(0, ...decimals.map((each) => each.places))
  const digits = decimals.reduce((total, each) => total + scaled(each, places), BigInt(0))
  return Number(`${digits}e-${places}`)
}
