<script setup lang="ts">
import type { EventsStatement } from '~~/shared/experiments/resultsReplies'

/** The statement that computes a number from views and events, asked for once it is opened. */
const props = defineProps<{ load: () => Promise<EventsStatement> }>()
const statement = ref<EventsStatement>()
const { problem, request } = useRequest()
function toggled(event: Event): void {
  if ((event.target as HTMLDetailsElement).open && !statement.value)
    void request(async () => void (statement.value = await props.load()))
}
</script>

<template>
  <details @toggle="toggled">
    <summary class="text-sm text-ink-soft">The statement that computes it from views and events</summary>
    <p v-if="problem" role="alert" class="mt-2 text-sm">{{ problem }}</p>
    <LoadingNote v-else-if="!statement" />
    <p v-else-if="statement.sql === null" class="mt-2 text-sm">{{ statement.missing }}</p>
    <StatementBlock v-else :sql="statement.sql" label="Statement over views and events" />
  </details>
</template>
