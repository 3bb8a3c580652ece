import { testsIn, type Condition } from '~~/core/targeting/condition'
import type { ConditionNames } from '~~/core/targeting/conditionWords'

/** Names of the experiments that a condition refers to; looked up only where it does. */
export function useConditionNames(siteId: number, condition: MaybeRefOrGetter<Condition | null>) {
  const api = useApi()
  const name = shallowRef<ConditionNames>({})
  const needsNames = computed(() => {
    const asked = toValue(condition)
    return asked !== null && testsIn(asked).some(({ fact }) => fact === 'variant')
  })
  watch(
    needsNames,
    async (isNeeded) => {
      if (!isNeeded) return
      const { variants } = await api('readEvidenceChoices', { site: siteId })
      const experiments: Record<number, { name: string; variants: string[] }> = {}
      for (const { experimentId, experiment, position, variant } of variants) {
        experiments[experimentId] ??= { name: experiment, variants: [] }
        experiments[experimentId].variants[position] = variant
      }
      name.value = { experiments }
    },
    { immediate: true },
  )
  return { name }
}
