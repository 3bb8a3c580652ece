import { EMPTY_PLAN, planText } from '~/data/funnelDraft'
import { funnelPlanSchema, type FunnelInput, type SavedFunnel } from '~~/shared/evidence/funnel'

/** The funnel that a view is of: one that was kept, by its number in the address, or one written out in it. */
export function useFunnelPlan(saved: () => readonly SavedFunnel[]) {
  const route = useRoute()
  const change = useQueryChange()
  const kept = computed(() => saved().find(({ id }) => String(id) === route.query.funnel) ?? null)
  const written = computed<FunnelInput | null>(() => {
    if (typeof route.query.plan !== 'string') return null
    try {
      return funnelPlanSchema.validateSync(JSON.parse(route.query.plan))
    } catch {
      return null
    }
  })
  const plan = computed(() => written.value ?? kept.value?.plan ?? null)
  return {
    kept,
    plan: computed(() => plan.value ?? EMPTY_PLAN),
    isReady: computed(() => plan.value !== null),
    isChanged: computed(() => written.value !== null && kept.value !== null),
    write: (next: FunnelInput) => change((query) => ({ ...query, plan: planText(next) })),
    open: (id: number | null) =>
      change(({ plan: _, funnel: __, ...rest }) => (id ? { ...rest, funnel: String(id) } : rest)),
  }
}
