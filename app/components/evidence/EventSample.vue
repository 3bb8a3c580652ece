<script setup lang="ts">
/** The latest events of a kind as they were told, for whoever installs something. */
const props = defineProps<{
  siteId: number
  /** As the kinds are told apart. */
  kind: string
  name: string | null
  title: string
  from: string
  to: string
  timeZone: string
}>()
const emit = defineEmits<{ close: [] }>()
const api = useApi()
const { value, problem, reload } = useLoaded(() => {
  const { from, to, kind, name } = props
  return api('sampleEvents', { site: props.siteId, query: { from, to, kind, ...(name ? { name } : {}) } })
})
</script>

<template>
  <SideDrawer :open="true" :title="title" @update:open="emit('close')">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!value" />
    <template v-else>
      <p class="mb-3 text-ink-soft">The latest {{ value.length }}, as they were reported.</p>
      <ul class="flex flex-col gap-3">
        <li v-for="(each, index) in value" :key="index" class="border-b border-line pb-3 text-sm">
          <span class="font-medium">{{ formatTime(each.at, timeZone) }}</span> on
          <span class="break-all">{{ each.page }}</span>
          <span v-if="each.label" class="block">{{ each.label }}</span>
          <span v-if="each.name && each.name !== name" class="block break-all">{{ each.name }}</span>
          <span v-if="each.amount !== null" class="block">Amount: {{ each.amount }}</span>
          <code v-if="each.element" class="block font-mono text-xs break-all text-ink-soft">{{ each.element }}</code>
          <pre v-if="each.properties" class="mt-1 font-mono text-xs break-all whitespace-pre-wrap">{{
            JSON.stringify(each.properties)
          }}</pre>
          <code class="block font-mono text-xs break-all text-ink-soft">{{ each.visitor }}</code>
        </li>
      </ul>
    </template>
  </SideDrawer>
</template>
