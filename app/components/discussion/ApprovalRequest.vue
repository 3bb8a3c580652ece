<script setup lang="ts">
/** Chooses whom to ask. */
const props = defineProps<{
  people: readonly { id: number; name: string }[]
  /** Who is asked already and has not answered. */
  asked: readonly number[]
}>()
const emit = defineEmits<{ ask: [person: number]; cancel: [] }>()
const choices = computed(() =>
  props.people
    .filter(({ id }) => !props.asked.includes(id))
    .map(({ id, name }) => ({ value: String(id), label: name })),
)
const chosen = ref('')
watch(choices, (all) => (chosen.value = all[0]?.value ?? ''), { immediate: true })
</script>

<template>
  <form class="flex flex-wrap items-end gap-2" @submit.prevent="chosen && emit('ask', Number(chosen))">
    <p v-if="choices.length === 0" class="text-ink-soft">Everybody of the team is asked already.</p>
    <template v-else>
      <ChoiceField v-model="chosen" class="w-56" label="Who should approve" :choices="choices" />
      <BaseButton type="submit">Ask</BaseButton>
    </template>
    <BaseButton kind="quiet" @click="emit('cancel')">Cancel</BaseButton>
  </form>
</template>
