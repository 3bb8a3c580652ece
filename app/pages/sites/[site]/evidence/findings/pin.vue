<script setup lang="ts">
import { findingBody, newFindingDraft } from '~/data/findingDraft'
import { elementInWords } from '~~/core/measurement/elementInWords'
import type { PointedElement } from '~~/shared/edits/pointing'

useHead({ title: 'Pin a finding · Vetch' })
const route = useRoute('sites-site-evidence-findings-pin')
const siteId = Number(route.params.site)
const api = useApi()
const notices = useNoticesStore()
const WIDTH = 1280
const firstPage = typeof route.query.path === 'string' && route.query.path.startsWith('/') ? route.query.path : '/'
const openPage = (path: string) => api('openPage', { site: siteId, body: { path } })
const path = ref(firstPage)
const selected = ref<PointedElement | null>(null)
const draft = ref(newFindingDraft(firstPage))
const { errors, isSaving: isKeeping, save } = useSaving()
const element = computed(() => {
  const { tag, text } = selected.value ?? { tag: '', text: '' }
  const label = text.replace(/\s+/g, ' ').trim().slice(0, 60)
  return elementInWords({ path: tag, label: label || null })
})
function opened(at: string): void {
  path.value = at
  selected.value = null
  draft.value.page = at.split('?')[0]!
}

const keep = () =>
  save(async () => {
    if (!selected.value) return
    const pin = { path: path.value, selector: selected.value.selector, element: element.value, width: WIDTH }
    const body = { ...findingBody(draft.value), frozen: null, pin }
    const { id } = await api('createFinding', { site: siteId, body })
    await api('photographFinding', { site: siteId, finding: id }).catch((error: unknown) => {
      if (!(error instanceof ApiProblem)) throw error
      notices.show(error.message, { tone: 'problem' })
    })
    await navigateTo(`/sites/${siteId}/evidence/findings/${id}`)
  })
</script>

<template>
  <div class="flex h-[calc(100dvh-6rem)] flex-col md:h-dvh">
    <header class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line px-5 py-2.5">
      <h1 class="text-lg">Pin a finding to the page</h1>
      <NuxtLink :to="`/sites/${siteId}/evidence/findings`" class="ml-auto text-accent underline">All findings</NuxtLink>
    </header>
    <div
      class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)_auto] lg:grid-cols-[minmax(0,1fr)_20rem] lg:grid-rows-1"
    >
      <PointingFrame
        :open-page="openPage"
        :first-page="firstPage"
        :edits="[]"
        @pointed="selected = $event[0] ?? null"
        @opened="opened"
      />
      <aside class="overflow-y-auto border-t border-line p-5 lg:border-t-0 lg:border-l">
        <p v-if="!selected" class="text-ink-soft">Click the element that the finding is about.</p>
        <form v-else class="flex flex-col gap-3" novalidate @submit.prevent="keep">
          <p class="font-medium break-words">{{ element }}</p>
          <FindingFields v-model="draft" :errors="errors" />
          <BaseButton type="submit" kind="main" :disabled="isKeeping">{{
            isKeeping ? 'Saving it with a picture …' : 'Pin it here'
          }}</BaseButton>
        </form>
      </aside>
    </div>
  </div>
</template>
