<script setup lang="ts">
/** Saves what was changed of a survey that runs: it asks where answers to other questions would be counted together. */
const props = defineProps<{
  isChanged: boolean
  isSaving: boolean
  /** Whether questions are others than those that visitors have answered. */
  hasOtherQuestions: boolean
}>()
const emit = defineEmits<{ save: [] }>()
const isOpen = ref(false)
function ask(): void {
  if (props.hasOtherQuestions) isOpen.value = true
  else emit('save')
}
function save(): void {
  isOpen.value = false
  emit('save')
}
</script>

<template>
  <BaseButton kind="main" :disabled="isSaving || !isChanged" @click="ask">{{
    isSaving ? 'Saving …' : 'Save'
  }}</BaseButton>
  <span v-if="isChanged" class="text-sm text-rust">Visitors see it once it is saved.</span>
  <PlainDialog v-model:open="isOpen" title="Change the questions of a running survey?">
    <p>
      Answers so far were given to the earlier questions. A question that stays keeps its answers: they are counted
      together with the new ones, whatever its words are then.
    </p>
    <p class="mt-2">To count the new ones by themselves, end this survey and write another.</p>
    <template #actions>
      <BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton>
      <BaseButton kind="main" @click="save">Save</BaseButton>
    </template>
  </PlainDialog>
</template>
