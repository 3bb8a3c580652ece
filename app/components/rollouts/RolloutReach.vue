<script setup lang="ts">
/** To whom it goes: a share, of everybody or of the audience that the experiment had. */
defineProps<{ hasAudience: boolean; errors?: Record<string, string> }>()
/** Of 10,000 buckets; what cannot be read as a number as it was typed. */
const share = defineModel<number | string>('share', { required: true })
const isForEverybody = defineModel<boolean>('isForEverybody', { required: true })
</script>

<template>
  <div class="flex flex-col gap-4">
    <ShareField v-model="share" label="Share of the visitors" :error="errors?.share" />
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
