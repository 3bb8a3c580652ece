<script setup lang="ts">
/** The findings that a hypothesis comes from. */
const props = defineProps<{ siteId: number; error?: string }>()
const chosen = defineModel<number[]>({ required: true })
const titles = defineModel<string[]>('titles', { default: () => [] })
const api = useApi()
const { value: found, problem, reload } = useLoaded(() => api('listFindings', { site: props.siteId, query: {} }))
const own = computed(() =>
  chosen.value.map((id) => ({ id, title: found.value?.findings.find((each) => each.id === id)?.title ?? '…' })),
)
watch(own, (list) => (titles.value = list.map(({ title }) => title)), { immediate: true })
const others = computed(() =>
  (found.value?.findings ?? []).filter(({ id, state }) => !chosen.value.includes(id) && state !== 'set aside'),
)
const next = computed({
  get: () => '',
  set: (id) => id && (chosen.value = [...chosen.value, Number(id)]),
})
</script>

<template>
  <fieldset class="flex flex-col gap-2">
    <legend class="text-sm font-medium">Because we saw</legend>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <ul v-if="own.length > 0" class="flex flex-col gap-1">
      <li v-for="each in own" :key="each.id" class="flex items-start justify-between gap-3 border-b border-line pb-1">
        <NuxtLink
          :to="`/sites/${siteId}/evidence/findings/${each.id}`"
          target="_blank"
          class="text-accent hover:underline"
          >{{ each.title }}</NuxtLink
        >
        <BaseButton
          kind="quiet"
          :aria-label="`Remove: ${each.title}`"
          @click="chosen = chosen.filter((id) => id !== each.id)"
          >Remove</BaseButton
        >
      </li>
    </ul>
    <ChoiceField
      v-model="next"
      label="Add a finding"
      is-bare
      :error="error"
      :choices="[
        { value: '', label: own.length > 0 ? 'Add another finding …' : 'Choose a finding …' },
        ...others.map(({ id, title }) => ({ value: String(id), label: title })),
      ]"
    />
  </fieldset>
</template>
