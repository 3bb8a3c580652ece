<script setup lang="ts">
/** One attribute of the element. What is being typed stays while something else on the page is saved. */
const props = defineProps<{
  name: string
  /** As it would be shown: null where it is removed. */
  value: string | null
  /** As it is on the page: null where it has none. */
  original: string | null
  problemOf: (value: string | null) => string
}>()
const emit = defineEmits<{ commit: [value: string | null] }>()
const LABELS: Record<string, string> = { href: 'Leads to', title: 'Title', alt: 'Alt text', placeholder: 'Example' }
const typed = ref('')
const problem = ref('')
watch(
  () => props.value,
  (value) => {
    typed.value = value ?? ''
    problem.value = ''
  },
  { immediate: true },
)
function commit(value: string | null): void {
  problem.value = props.problemOf(value)
  if (!problem.value) emit('commit', value)
}
</script>

<template>
  <div class="flex items-end gap-2">
    <TextField
      v-model="typed"
      class="flex-1"
      :label="LABELS[name] ?? name"
      :placeholder="value === null ? 'removed' : ''"
      :error="problem || undefined"
      @commit="commit(typed)"
    />
    <BaseButton v-if="original !== null && value !== original" kind="quiet" @click="commit(original)">Reset</BaseButton>
    <BaseButton v-else-if="value !== null" kind="quiet" :aria-label="`Remove ${name}`" @click="commit(null)"
      >Remove</BaseButton
    >
  </div>
</template>
