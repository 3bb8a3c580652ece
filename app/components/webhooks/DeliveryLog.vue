<script setup lang="ts">
import type { DeliveryView } from '~~/shared/webhooks/replies'
import { OCCURRENCE_WORDS } from '~~/core/notifications/occurrence'
import type { TableColumn } from '~/data/tableColumn'

/** What was sent to a webhook, and how it went. */
const props = defineProps<{ siteId: number; webhookId: number; timeZone: string }>()
const emit = defineEmits<{ settled: [] }>()
const api = useApi()
const notices = useNoticesStore()
const place = { site: props.siteId, webhook: props.webhookId }
const {
  items: deliveries,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listDeliveries', { ...place, query: { after, limit: 20 } }))
defineExpose({ reload })
// What waits is sent within seconds.
const waits = computed(() => deliveries.value?.some(({ state, attempts }) => state === 'waits' && attempts === 0))
const { pause, resume } = useIntervalFn(reload, 2000, { immediate: false })
watch(waits, (isWaiting) => {
  if (isWaiting) return resume()
  pause()
  emit('settled')
})

const titleOf = ({ kind }: DeliveryView) => (kind === 'test' ? 'Test' : OCCURRENCE_WORDS[kind])
function answerOf({ state, status, answer, nextTryAt, attempts }: DeliveryView): string {
  const said = [status, answer].filter(Boolean).join(': ')
  if (state === 'waits' && nextTryAt && attempts > 0)
    return `${said} Next try ${formatTime(nextTryAt, props.timeZone)}.`
  return said
}
const COLUMNS: readonly TableColumn<DeliveryView>[] = [
  { id: 'kind', header: 'Message', value: titleOf, isHeading: true },
  {
    id: 'at',
    header: 'Of',
    value: ({ createdAt }) => createdAt,
    show: ({ createdAt }) => formatTime(createdAt, props.timeZone),
  },
  { id: 'state', header: 'State', value: ({ state }) => state },
  { id: 'attempts', header: 'Tries', value: ({ attempts }) => attempts, isNumeric: true },
  { id: 'answer', header: 'Answer', value: answerOf },
  { id: 'body', header: 'Content', value: ({ body }) => body, isDrawing: true },
  { id: 'replay', header: 'Send again', value: () => null, isDrawing: true },
]
async function replay({ id }: DeliveryView): Promise<void> {
  try {
    await api('replayDelivery', { ...place, delivery: id })
    notices.show('It is sent once more.')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
  await reload()
}
</script>

<template>
  <div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!deliveries" />
    <p v-else-if="deliveries.length === 0" class="text-ink-soft">Nothing was sent in the last 90 days.</p>
    <DataTable v-else label="What was sent" :columns="COLUMNS" :rows="deliveries" :row-key="({ id }) => id">
      <template #cell-body="{ row }">
        <details>
          <summary class="cursor-pointer text-accent">Show</summary>
          <pre class="max-w-md font-mono text-xs break-all whitespace-pre-wrap">{{ row.body }}</pre>
        </details>
      </template>
      <template #cell-replay="{ row }">
        <BaseButton
          v-if="row.state !== 'waits'"
          kind="quiet"
          :aria-label="`Send again: ${titleOf(row)} of ${formatTime(row.createdAt, timeZone)}`"
          @click="replay(row)"
          >Send again</BaseButton
        >
      </template>
    </DataTable>
    <BaseButton v-if="hasMore" kind="quiet" class="mt-2" @click="loadMore">Show more</BaseButton>
  </div>
</template>
