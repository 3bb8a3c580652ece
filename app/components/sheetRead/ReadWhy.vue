<script setup lang="ts">
/** The hypothesis as a sentence; it stays the team's to word. */
const props = defineProps<{ mayEdit: boolean }>()
const { content } = useSheetChanges()
const isEditing = ref(false)
</script>

<template>
  <div v-if="isEditing && props.mayEdit" class="flex flex-col items-start gap-2">
    <SheetWhy class="w-full" />
    <BaseButton @click="isEditing = false">Done</BaseButton>
  </div>
  <SheetSection v-else name="why" title="Why">
    <template #action
      ><BaseButton v-if="mayEdit" kind="quiet" aria-label="Edit the hypothesis" @click="isEditing = true"
        >Edit</BaseButton
      ></template
    >
    <p v-if="content.hypothesis" class="max-w-[72ch] whitespace-pre-line">{{ content.hypothesis }}</p>
    <p v-else class="text-ink-soft">No hypothesis was written down.</p>
  </SheetSection>
</template>
