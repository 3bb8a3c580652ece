import { createHash } from 'node:crypto'

interface Told {
  type: string
  name: string
  reference: string | null
  amount: number | null
  session: string
  address: string
}

/**
 * A key that is the same for everything that tells of the same order: by the number of the order, or else by session,
 * amount and address. A confirmation page that is opened again is not a second order.
 *
 * @returns null for what may happen any number of times
 */
export function onceKey({ type, name, reference, amount, session, address }: Told): string | null {
  if (reference !== null) return digest(['reference', type, name, reference])
  return amount === null ? null : digest(['amount', type, name, session, amount, address])
}

function digest(parts: readonly (string | number)[]): string {
  return createHash('sha256').update(JSON.stringify(parts)).digest('base64url').slice(0, 22)
}
