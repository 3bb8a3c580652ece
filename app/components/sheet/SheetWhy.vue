<script setup lang="ts">
defineProps<{ disabled: boolean }>()
const { draft, errors, commit } = useSectionDraft(['hypothesis'], (sheet) => ({ hypothesis: sheet.hypothesis }))
</script>

<template>
  <SheetSection name="why" title="Why" note="The hypothesis.">
    <LabeledField v-slot="{ id, invalid }" label="Because we saw …, we expect that … will …" :error="errors.hypothesis">
      <textarea
        :id="id"
        v-model="draft.hypothesis"
        class="field max-w-[72ch]"
        rows="3"
        :disabled="disabled"
        :aria-invalid="invalid"
        placeholder="Because many visitors leave without searching, we expect that a headline with the islands’ names will bring more bookings."
        @change="commit"
      />
    </LabeledField>
  </SheetSection>
</template>
