<script setup lang="ts">
import type { LeftView } from '~~/shared/evidence/replies'
import type { TableColumn } from '~/data/tableColumn'
import type { FunnelInput } from '~~/shared/evidence/funnel'

/** Those who took a step and not the next one, the latest first. */
const props = defineProps<{ siteId: number; filter: Filter; plan: FunnelInput; step: number; timeZone: string }>()
const emit = defineEmits<{ close: [] }>()
const api = useApi()
const { value, problem, reload } = useLoaded(() =>
  api('reportFunnelLeft', { site: props.siteId, body: { ...props.filter, plan: props.plan, step: props.step } }),
)
const recordings = computed(() => ({
  path: `/sites/${props.siteId}/evidence/recordings`,
  query: { ...props.filter, plan: JSON.stringify(props.plan), left: String(props.step) },
}))
type Left = LeftView['visitors'][number]
const columns: TableColumn<Left>[] = [
  { id: 'at', header: 'When', value: ({ at }) => at, show: ({ at }) => formatTime(at, props.timeZone) },
  { id: 'visitor', header: 'Visitor', value: ({ visitor }) => visitor, isHeading: true },
]
</script>

<template>
  <SideDrawer :open="true" :title="`Left after ${plan.steps[step]!.name}`" @update:open="emit('close')">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!value" />
    <template v-else>
      <p class="mb-2 text-ink-soft">The latest {{ value.visitors.length }} of them.</p>
      <NuxtLink :to="recordings" class="mb-3 font-medium text-accent underline">Watch their recordings</NuxtLink>
      <DataTable
        label="Visitors who left"
        :columns="columns"
        :rows="value.visitors"
        :row-key="({ visitor, at }) => visitor + at"
      >
        <template #cell-visitor="{ row }"
          ><code class="font-mono text-xs break-all">{{ row.visitor }}</code></template
        >
      </DataTable>
    </template>
  </SideDrawer>
</template>
