import { parseDecimal, rounded } from './decimal'

/** Largest amount that a site may allow. */
export const LARGEST_AMOUNT = 100_000_000

/** Exchange rates of one currency into the site's own, by the day from which they hold. */
export interface DatedRate {
  currency: string
  /** `YYYY-MM-DD` in the site's time zone */
  from: string
  /** What one unit is worth in the site's currency, above 0. */
  rate: number
}

/** How a site counts money. */
export interface Money {
  /** Three capital letters, such as EUR. */
  currency: string
  rates: readonly DatedRate[]
}

/** Decimals of a currency: 2 for EUR, 0 for JPY, 3 for KWD. */
export function decimalsOf(currency: string): number {
  let decimals = known.get(currency)
  if (decimals === undefined) known.set(currency, (decimals = findDecimals(currency)))
  return decimals
}

const known = new Map<string, number>()

function findDecimals(currency: string): number {
  try {
    return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2
  } catch {
    return 2
  }
}

/** An amount with the decimals that its currency has, rounded half away from zero. */
export function roundAmount(amount: number, currency: string): number {
  return rounded(parseDecimal(String(amount)), decimalsOf(currency))
}

/**
 * An amount in the site's own currency, by the rate of its day.
 *
 * @param day - day of the event, `YYYY-MM-DD`
 * @returns null where the site has no rate that holds on that day
 */
export function inOwnCurrency(
  { currency, rates }: Money,
  amount: number,
  from: string | null,
  day: string,
): number | null {
  if (from === null || from === currency) return amount
  let best: DatedRate | null = null
  for (const each of rates)
    if (each.currency === from && each.from <= day && (!best || each.from > best.from)) best = each
  if (!best) return null
  const [told, rate] = [parseDecimal(String(amount)), parseDecimal(String(best.rate))]
  // The product of two floating point numbers loses half cents: 18.495 may lie below itself.
  const product = { digits: told.digits * rate.digits, places: told.places + rate.places }
  return rounded(product, decimalsOf(currency))
}
