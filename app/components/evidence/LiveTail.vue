<script setup lang="ts">
import type { TableColumn } from '~/data/tableColumn'
import type { Arrived } from '~~/shared/evidence/live'

/** What arrives now, with what was refused and why: what one looks at while installing. */
const props = defineProps<{ siteId: number; timeZone: string }>()
const isOwn = ref(true)
const { arrived, isPaused, isConnected, clear } = useLiveArrivals(props.siteId, isOwn)
const columns: TableColumn<Arrived>[] = [
  { id: 'at', header: 'Arrived', value: ({ at }) => at, show: ({ at }) => formatClock(at, props.timeZone) },
  { id: 'kind', header: 'What', value: ({ kind, what }) => kind ?? what, isHeading: true },
  { id: 'page', header: 'Page', value: ({ page }) => page },
  { id: 'detail', header: 'Detail', value: ({ detail }) => detail },
  { id: 'visitor', header: 'Visitor', value: ({ visitor }) => visitor, isExtra: true },
  { id: 'browser', header: 'Browser', value: ({ browser }) => browser, isExtra: true },
  { id: 'leftOut', header: 'Counts', value: ({ leftOut }) => leftOut },
]
</script>

<template>
  <div>
    <div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
      <label class="flex items-center gap-2"
        ><input v-model="isOwn" type="checkbox" class="accent-accent" /> Only from this browser and network</label
      >
      <BaseButton kind="quiet" @click="isPaused = !isPaused">{{ isPaused ? 'Resume' : 'Pause' }}</BaseButton>
      <BaseButton kind="quiet" @click="clear">Clear</BaseButton>
      <span class="text-sm text-ink-soft" role="status">{{
        isPaused
          ? 'Paused: new events are not shown.'
          : isConnected
            ? 'Listening.'
            : 'Not connected; it is tried again.'
      }}</span>
    </div>
    <p v-if="arrived.length === 0" class="text-ink-soft">
      Open a page of the site in this browser. Its page view appears here within a second.
    </p>
    <DataTable v-else label="What arrives" :columns="columns" :rows="arrived" :row-key="({ id }) => id">
      <template #cell-kind="{ row }">
        <span :class="{ 'font-medium text-rust': row.what === 'refused' }">{{ row.kind ?? 'refused' }}</span>
      </template>
      <template #cell-leftOut="{ row }">
        <span v-if="row.leftOut" class="text-rust">no: {{ row.leftOut === 'robot' ? 'a robot' : 'your team' }}</span>
        <span v-else-if="row.what !== 'refused'">yes</span>
      </template>
      <template #cell-page="{ row }"
        ><span class="break-all">{{ row.page ?? '' }}</span></template
      >
      <template #cell-detail="{ row }"
        ><span class="line-clamp-2 break-all">{{ row.detail ?? '' }}</span></template
      >
    </DataTable>
  </div>
</template>
