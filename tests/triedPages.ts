import type { TryPage } from '../server/services/experiments/triedPages'

/** Pages on which nothing that is looked for is found. */
export const onEmptyPages: TryPage = () => Promise.resolve({ found: [], policies: [] })
