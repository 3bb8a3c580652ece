import type { TryPage } from '../server/services/experiments/preflightReport'

/** Pages on which nothing that is looked for is found. */
export const onEmptyPages: TryPage = () => Promise.resolve({ found: [], policies: [] })
