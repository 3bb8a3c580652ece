import { inject } from 'vitest'
import type { OwnStack } from './stack'

/** The application and database of the worker that runs this file. */
export function ownStack(): OwnStack {
  return inject('stacks')[Number(process.env.VITEST_POOL_ID) - 1]!
}
