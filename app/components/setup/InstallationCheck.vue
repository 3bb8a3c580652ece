<script setup lang="ts">
import type { SiteView } from '~~/shared/sites/replies'
import type { TableColumn } from '~/data/tableColumn'
import type { LookedAt } from '~/composables/useCrawl'

/** Whether visitors report, and on which of the site's own pages the script line is. */
const props = defineProps<{ site: SiteView; mayCheck: boolean }>()
const api = useApi()
const path = ref('/')
const pathProblem = ref('')
const check = (of: string) => api('checkInstallation', { site: props.site.id, body: { path: of } })
const { pages, isRunning, problem, hasMore, start, cancel } = useCrawl(check)
const isChecking = ref(false)

async function checkOne(): Promise<void> {
  isChecking.value = true
  pathProblem.value = ''
  try {
    const { findings } = await check(path.value)
    pages.value = [{ path: path.value, findings }, ...pages.value.filter((each) => each.path !== path.value)]
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    pathProblem.value = error.message
  } finally {
    isChecking.value = false
  }
}
const isSound = ({ findings }: LookedAt) => findings.every(({ passed }) => passed)
const hasLine = ({ findings }: LookedAt) => findings.some(({ check: of, passed }) => of === 'present' && passed)
const toDo = ({ findings }: LookedAt) =>
  findings
    .filter(({ passed }) => !passed)
    .map(({ text }) => text)
    .join(' ')
/** Those with something to do first. */
const shown = computed(() => pages.value.toSorted((a, b) => Number(isSound(a)) - Number(isSound(b))))
const summary = computed(() => {
  const count = pages.value.filter(hasLine).length
  return `Found on ${count} of ${pages.value.length} page${pages.value.length === 1 ? '' : 's'}.`
})
const columns: TableColumn<LookedAt>[] = [
  { id: 'path', header: 'Page', value: (each) => each.path, isHeading: true },
  {
    id: 'line',
    header: 'Script line',
    value: (each) => (isSound(each) ? '✓ in place' : hasLine(each) ? '! there' : '✕'),
  },
  { id: 'toDo', header: 'What to do', value: toDo, isUnsorted: true },
]
</script>

<template>
  <section aria-labelledby="installation">
    <h2 id="installation" class="mb-2">Installation</h2>
    <p class="mb-3">
      <template v-if="site.firstReportAt"
        ><span class="text-pine">✓</span> A visitor reported first on
        {{ formatTime(site.firstReportAt, site.timeZone) }} ({{ site.timeZone }}).</template
      >
      <template v-else
        ><span class="text-rust">✕</span> No visitor has reported yet. Open a page of the site once the line is in
        place; this notices it by itself.</template
      >
    </p>
    <form v-if="mayCheck" class="flex max-w-2xl flex-wrap items-end gap-2" @submit.prevent="checkOne">
      <TextField v-model="path" class="w-64" label="Page to check" :error="pathProblem" />
      <BaseButton type="submit" :disabled="isChecking">{{ isChecking ? 'Checking …' : 'Check' }}</BaseButton>
      <BaseButton v-if="isRunning" kind="quiet" @click="cancel">Cancel</BaseButton>
      <BaseButton v-else kind="quiet" title="From the home page along the links" @click="start"
        >Check up to 20 pages</BaseButton
      >
    </form>
    <div v-if="pages.length > 0 || isRunning" class="mt-3" data-testid="installation-report">
      <p aria-live="polite" class="mb-1">
        {{ summary }}
        <span v-if="isRunning" class="text-ink-soft">Looking at more …</span>
        <span v-else-if="hasMore" class="text-ink-soft">The site has more pages.</span>
      </p>
      <p v-if="problem" class="text-sm text-rust" role="alert">{{ problem }}</p>
      <DataTable label="Script line by page" :columns="columns" :rows="shown" :row-key="(each) => each.path" />
    </div>
  </section>
</template>
