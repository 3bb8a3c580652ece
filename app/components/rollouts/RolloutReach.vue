<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'

/** To whom it goes: a share, of everybody or of the audience that the experiment had. */
defineProps<{ hasAudience: boolean; errors?: Record<string, string> }>()
/** Of 10,000 buckets; what cannot be read as a number as it was typed. */
const share = defineModel<number | string>('share', { required: true })
const isForEverybody = defineModel<boolean>('isForEverybody', { required: true })
const percent = computed({
  get: () => (typeof share.value === 'number' ? share.value / BUCKETS : share.value),
  set: (value: number | string | null) => {
    share.value = typeof value === 'number' ? Number((value * BUCKETS).toFixed(6)) : (value ?? '')
  },
})
const slider = computed({
  get: () => (typeof share.value === 'number' ? Math.round((share.value / BUCKETS) * 100) : 0),
  set: (value: number) => (share.value = (value / 100) * BUCKETS),
})
</script>

<template>
  <div class="flex flex-col gap-4">
    <div class="flex flex-col gap-1">
      <PercentField v-model="percent" class="w-40" label="Share of the visitors" :error="errors?.share" />
      <input
        v-model.number="slider"
        class="h-6 w-40 accent-accent"
        type="range"
        min="0"
        max="100"
        aria-label="Share by slider"
      />
    </div>
    <fieldset v-if="hasAudience" class="flex flex-col gap-1">
      <legend class="mb-1 text-sm font-medium">For whom</legend>
      <label class="flex items-center gap-2">
        <input v-model="isForEverybody" type="radio" name="for-whom" :value="false" class="accent-accent" />
        the audience of the experiment
      </label>
      <label class="flex items-center gap-2">
        <input v-model="isForEverybody" type="radio" name="for-whom" :value="true" class="accent-accent" />
        everybody on its pages
      </label>
    </fieldset>
  </div>
</template>
