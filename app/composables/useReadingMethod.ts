import type { ReadingMethod } from '~~/core/analysis/readings'

export const READING_METHODS: readonly { value: ReadingMethod; label: string; hint: string }[] = [
  { value: 'spending', label: 'Planned end', hint: 'Holds at the plan’s daily looks.' },
  { value: 'sequential', label: 'Sequential', hint: 'Holds however often you look.' },
  { value: 'fixed', label: 'Fixed', hint: 'Holds for one look at the planned end.' },
  { value: 'bayesian', label: 'Bayesian', hint: 'Where the true value lies, given the data and a flat prior.' },
]

/** The method that results are read by: in the address, so that a link shows what its sender saw. */
export function useReadingMethod(initial: () => ReadingMethod) {
  const route = useRoute()
  const change = useQueryChange()
  return computed<ReadingMethod>({
    get: () => READING_METHODS.find(({ value }) => value === route.query.method)?.value ?? initial(),
    set: (method) => change((query) => ({ ...query, method })),
  })
}
