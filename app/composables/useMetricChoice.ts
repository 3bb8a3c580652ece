import type { EvidenceChoices } from '~~/shared/evidence/replies'

/** The metric that a view counts, kept in the address; null for none. */
export function useMetricChoice(choices: Ref<EvidenceChoices | null>) {
  const route = useRoute()
  const change = useQueryChange()
  const id = computed<string>({
    get: () => (typeof route.query.metric === 'string' ? route.query.metric : ''),
    set: (value) => change(({ metric: _, ...rest }) => (value ? { ...rest, metric: value } : rest)),
  })
  const metric = computed(() => choices.value?.metrics.find((each) => each.id === id.value) ?? null)
  const options = computed(() => [
    { value: '', label: 'none' },
    ...(choices.value?.metrics ?? []).map(({ id: value, name }) => ({ value, label: name })),
  ])
  return { id, metric, options, asked: computed(() => (id.value ? { metric: id.value } : {})) }
}
