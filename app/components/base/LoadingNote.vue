<script setup lang="ts">
import { LOADS } from '~/composables/useLoaded'

/** Says that something is on its way, once that takes long enough to be noticed, and lets a person stop waiting. */
const isNoticed = ref(false)
const isLong = ref(false)
useTimeoutFn(() => (isNoticed.value = true), 200)
useTimeoutFn(() => (isLong.value = true), 5000)
const loads = inject(LOADS, [])
const canCancel = computed(() => loads.some(({ isLoading }) => isLoading.value))
function cancel(): void {
  for (const load of loads) if (load.isLoading.value) load.cancel()
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2 text-ink-soft">
    <p role="status">{{ isLong ? 'Still waiting for the server’s answer.' : isNoticed ? 'Loading …' : '' }}</p>
    <BaseButton v-if="isLong && canCancel" @click="cancel">Cancel</BaseButton>
  </div>
</template>
