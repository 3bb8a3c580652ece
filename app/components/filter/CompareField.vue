<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import { BEFORE, EVERYBODY } from '~/composables/useFilter'

/** What a view is compared with: nothing, previous period, everybody, or another segment of the same days. */
const props = defineProps<{ compare: string | null; choices: EvidenceChoices | null }>()
const emit = defineEmits<{ change: [compare: string | null] }>()
const OTHER = 'other'
const isOther = ref(props.compare !== null && props.compare !== BEFORE && props.compare !== EVERYBODY)
watch(
  () => props.compare,
  (compare) => (isOther.value = compare === null ? isOther.value : compare !== BEFORE && compare !== EVERYBODY),
)
const kind = computed({
  get: () => (isOther.value ? OTHER : (props.compare ?? '')),
  set: (value: string) => {
    isOther.value = value === OTHER
    emit('change', value === '' || value === OTHER ? null : value)
  },
})
const segment = computed({
  get: () => (isOther.value ? (props.compare ?? '') : ''),
  set: (value: string) => emit('change', value || null),
})
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-4 gap-y-3">
    <LabeledField v-slot="{ id }" class="w-40" label="Compare with">
      <select :id="id" v-model="kind" class="field">
        <option value="">nothing</option>
        <option :value="BEFORE">previous period</option>
        <option :value="EVERYBODY">everybody</option>
        <option :value="OTHER">other visitors …</option>
      </select>
    </LabeledField>
    <SegmentField v-if="isOther" v-model="segment" label="Other visitors" :choices="choices" />
  </div>
</template>
