<script setup lang="ts">
import type { PageMatch } from '~~/core/targeting/pageRule'
import { pageText, readPage } from '~~/shared/evidence/filter'

/** Pages by their address; all of them while nothing is typed. */
defineProps<{ label: string; pages: readonly string[] }>()
/** As it stands in the address of the view; empty for all pages. */
const page = defineModel<string>({ required: true })
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'begins', label: 'begins with' },
  { value: 'exact', label: 'is' },
  { value: 'contains', label: 'contains' },
]
const known = computed(() => (page.value ? readPage(page.value) : null))
const draft = reactive({ match: (known.value?.match ?? 'begins') as PageMatch, value: known.value?.value ?? '' })
watch(known, (rule) => {
  draft.value = rule?.value ?? ''
  if (rule) draft.match = rule.match
})
const problem = ref<string>()
const listId = useId()

function commit(): void {
  const value = draft.value.trim()
  problem.value = undefined
  if (value === '') page.value = ''
  else if (draft.match !== 'contains' && !value.startsWith('/')) problem.value = 'Begin with a slash, such as /book.'
  else page.value = pageText({ match: draft.match, value })
}
</script>

<template>
  <LabeledField v-slot="{ id, invalid, describedBy }" :label="label" :error="problem">
    <span class="flex gap-1.5">
      <select v-model="draft.match" class="field w-32" aria-label="How the address is compared" @change="commit">
        <option v-for="each in MATCHES" :key="each.value" :value="each.value">{{ each.label }}</option>
      </select>
      <input
        :id="id"
        v-model="draft.value"
        class="field w-48"
        placeholder="all pages"
        :list="listId"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        @change="commit"
      />
      <datalist :id="listId"><option v-for="each in pages" :key="each" :value="each" /></datalist>
    </span>
  </LabeledField>
</template>
