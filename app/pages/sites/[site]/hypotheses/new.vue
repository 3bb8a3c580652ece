<script setup lang="ts">
import { hypothesisBody, newHypothesisDraft, type HypothesisDraft } from '~/data/hypothesisDraft'

useHead({ title: 'Write a hypothesis · Vetch' })
const route = useRoute('sites-site-hypotheses-new')
const siteId = Number(route.params.site)
const api = useApi()
const { value: view, problem, reload } = useLoaded(() => api('listHypotheses', { site: siteId }))
const asked = typeof route.query.findings === 'string' ? route.query.findings.split(',').map(Number) : []
const findings = asked.filter((id) => Number.isInteger(id) && id > 0)
/** What is written stays on this device until it is saved. */
const kept = useSessionStorage<HypothesisDraft | null>(`vetch-hypothesis-${siteId}-${findings.join(',')}`, null, {
  serializer: { read: (text) => JSON.parse(text) as HypothesisDraft, write: (value) => JSON.stringify(value) },
})
const draft = ref<HypothesisDraft>(
  kept.value ? { ...newHypothesisDraft(), ...kept.value } : newHypothesisDraft(findings),
)
watch(draft, (value) => (kept.value = value))
if (findings.length > 0 && !kept.value) onMounted(fillPage)
/** Findings of one page are of that page. */
async function fillPage(): Promise<void> {
  const all = await api('listFindings', { site: siteId, query: {} }).catch((error: unknown) => {
    if (!(error instanceof ApiProblem)) throw error
    return null
  })
  // Without an answer the field stays empty, to be filled by hand.
  const own = (all?.findings ?? []).filter(({ id }) => findings.includes(id))
  const pages = new Set(own.map(({ page }) => page))
  const [page] = pages
  if (pages.size === 1 && page && draft.value.pages === '') draft.value = { ...draft.value, pages: `is:${page}` }
}
const { errors, isSaving, save } = useSaving()
const submit = () =>
  save(async () => {
    const { id } = await api('createHypothesis', { site: siteId, body: hypothesisBody(draft.value) })
    kept.value = null
    await navigateTo(`/sites/${siteId}/hypotheses/${id}`)
  })
function cancel(): void {
  kept.value = null
  void navigateTo(`/sites/${siteId}/hypotheses/list`)
}
</script>

<template>
  <div class="p-6 lg:p-8">
    <HypothesesHead :site-id="siteId" note="What is expected of a change, and why" />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!view" />
    <HypothesisEditor
      v-else
      v-model="draft"
      :site-id="siteId"
      :view="view"
      :errors="errors"
      :is-saving="isSaving"
      @save="submit"
      @cancel="cancel"
    />
  </div>
</template>
