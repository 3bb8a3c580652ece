<script setup lang="ts">
defineProps<{ mayEdit: boolean }>()
const store = useSheetStore()
const { draft, errors, commit } = useSectionDraft(['name'], (sheet) => ({ name: sheet.name }))
</script>

<template>
  <header v-if="store.sheet">
    <label class="sr-only" for="experiment-name">Name of the experiment</label>
    <input
      id="experiment-name"
      v-model="draft.name"
      class="-ml-2 w-full rounded border border-transparent bg-transparent px-2 py-0.5 text-2xl font-semibold hover:border-line disabled:hover:border-transparent"
      :disabled="!mayEdit"
      :aria-invalid="errors.name ? true : undefined"
      @change="commit"
    />
    <p v-if="errors.name" class="text-sm text-rust" role="alert">{{ errors.name }}</p>
    <p class="mt-1 flex items-center gap-3 text-sm text-ink-soft">
      <StateBadge :state="store.sheet.state" />
      <span v-if="store.isSaving">Saving …</span>
      <span v-else>Saved</span>
    </p>
  </header>
</template>
