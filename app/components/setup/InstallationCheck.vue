<script setup lang="ts">
import type { InstallationReport, SiteView } from '~~/shared/sites/replies'

const props = defineProps<{ site: SiteView; mayCheck: boolean }>()
const api = useApi()
const path = ref('/')
const report = shallowRef<InstallationReport | null>(null)
const problem = ref('')
const isChecking = ref(false)

async function check(): Promise<void> {
  isChecking.value = true
  problem.value = ''
  try {
    report.value = await api('checkInstallation', { site: props.site.id, body: { path: path.value } })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  } finally {
    isChecking.value = false
  }
}
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
    <form v-if="mayCheck" class="flex max-w-lg items-end gap-2" @submit.prevent="check">
      <TextField v-model="path" class="flex-1" label="Page to check" :error="problem" />
      <BaseButton type="submit" :disabled="isChecking">{{ isChecking ? 'Checking …' : 'Check' }}</BaseButton>
    </form>
    <ul v-if="report" class="mt-3 flex flex-col gap-1" data-testid="installation-report">
      <li class="text-sm text-ink-soft">{{ report.address }}</li>
      <li v-for="finding in report.findings" :key="finding.check">
        <span :class="finding.passed ? 'text-pine' : 'text-rust'">{{ finding.passed ? '✓' : '✕' }}</span>
        {{ finding.text }}
      </li>
    </ul>
  </section>
</template>
