import { parseDecimal, scaled, type Decimal } from '../../../core/measurement/decimal'
import type { Moments } from '../../../core/statistics/moments'

/** Sums as the database gives them: decimals in text. */
export interface ExactSums {
  /** Σ of each value. */
  sums: readonly string[]
  /** Σ of products of values i ≥ j: the lower triangle, row by row. */
  products: readonly string[]
}

/**
 * Moments from sums and sums of products, in exact integers until the last step: Σxy and ΣxΣy/n may agree in all digits
 * that a floating point number has.
 *
 * @param count - visitors, of whom those without a row have zeros
 */
export function momentsOfSums(count: number, { sums, products }: ExactSums): Moments {
  if (count === 0) return { count, means: sums.map(() => 0), comoments: products.map(() => 0) }
  const exact = sums.map(parseDecimal)
  let cell = 0
  const comoments: number[] = []
  for (let row = 0; row < sums.length; row++) {
    for (let column = 0; column <= row; column++, cell++) {
      const deviation = deviationProducts(count, parseDecimal(products[cell]!), exact[row]!, exact[column]!)
      comoments.push(row === column ? Math.max(0, deviation) : deviation)
    }
  }
  return { count, means: sums.map((sum) => Number(sum) / count), comoments }
}

/** Σxy − ΣxΣy/n. */
function deviationProducts(count: number, products: Decimal, x: Decimal, y: Decimal): number {
  const places = Math.max(products.places, x.places + y.places)
  const deviation =
    scaled(products, places) * BigInt(count) - x.digits * y.digits * BigInt(10) ** BigInt(places - x.places - y.places)
  return Number(deviation) / count / 10 ** places
}
