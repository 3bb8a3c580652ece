import { testsIn, type Condition } from '~~/core/targeting/condition'
import type { ConditionNames } from '~~/core/targeting/conditionWords'
import type { Fact } from '~~/core/targeting/visitorFacts'

/** Names of the experiments and saved audiences that a condition refers to; looked up only where it does. */
export function useConditionNames(siteId: number, condition: MaybeRefOrGetter<Condition | null>) {
  const api = useApi()
  const name = shallowRef<ConditionNames>({})
  const asksFor = (wanted: Fact) => {
    const asked = toValue(condition)
    return asked !== null && testsIn(asked).some(({ fact }) => fact === wanted)
  }
  watch(
    () => asksFor('audience'),
    async (isNeeded) => {
      if (!isNeeded) return
      const saved = await api('listAudiences', { site: siteId })
      name.value = { ...name.value, audiences: Object.fromEntries(saved.map((each) => [each.id, each.name])) }
    },
    { immediate: true },
  )
  watch(
    () => asksFor('variant'),
    async (isNeeded) => {
      if (!isNeeded) return
      const { variants } = await api('readEvidenceChoices', { site: siteId })
      const experiments: Record<number, { name: string; variants: string[] }> = {}
      for (const { experimentId, experiment, position, variant } of variants) {
        experiments[experimentId] ??= { name: experiment, variants: [] }
        experiments[experimentId].variants[position] = variant
      }
      name.value = { ...name.value, experiments }
    },
    { immediate: true },
  )
  return { name }
}
