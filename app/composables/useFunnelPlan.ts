import type { SavedFunnel } from '~~/shared/evidence/replies'
import { EMPTY_PLAN, planText } from '~/data/funnelDraft'
import type { FunnelInput } from '~~/shared/evidence/funnel'
import { readPlan } from '~~/shared/recordings/recording'

const NEW = 'new'

/** The funnel that a view is of: one that was saved, by its number in the address, or one written out in it. */
export function useFunnelPlan(saved: () => readonly SavedFunnel[]) {
  const route = useRoute()
  const change = useQueryChange()
  const kept = computed(() => saved().find(({ id }) => String(id) === route.query.funnel) ?? null)
  const written = computed(() => (typeof route.query.plan === 'string' ? readPlan(route.query.plan) : null))
  const plan = computed(() => written.value ?? kept.value?.plan ?? null)
  return {
    kept,
    plan: computed(() => plan.value ?? EMPTY_PLAN),
    isReady: computed(() => plan.value !== null),
    /** Whether the address asks for one that is not written yet. */
    isNew: computed(() => route.query.funnel === NEW),
    isChanged: computed(() => written.value !== null && kept.value !== null),
    write: (next: FunnelInput) => change((query) => ({ ...query, plan: planText(next) })),
    open: (id: number | null) =>
      change(({ plan: _, funnel: __, ...rest }) => (id ? { ...rest, funnel: String(id) } : rest)),
    begin: () => change(({ plan: _, funnel: __, ...rest }) => ({ ...rest, funnel: NEW })),
  }
}
