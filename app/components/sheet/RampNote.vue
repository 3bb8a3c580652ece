<script setup lang="ts">
import type { ExperimentSheet, RampView } from '~~/shared/experiments/replies'
import { BUCKETS } from '~~/core/assignment/assignment'

/** Where the ramp of a running experiment stands, and its next step by hand. */
const props = defineProps<{ sheet: ExperimentSheet; ramp: RampView; mayEdit: boolean }>()
const store = useSheetStore()
const { isSaving, save } = useSaving()
const percent = (share: number) => formatShare(share / BUCKETS, 1)
const next = computed(() => props.sheet.terms.ramp[props.ramp.step + 1]?.share ?? props.ramp.final)
</script>

<template>
  <section aria-label="Ramp-up" class="flex flex-col gap-1 text-sm">
    <p>
      {{ percent(sheet.share) }} of the visitors now, {{ percent(next) }} from
      {{ formatTime(ramp.until, sheet.timeZone) }} on<template v-if="next !== ramp.final"
        >, {{ percent(ramp.final) }} in the end</template
      >.
    </p>
    <p v-if="ramp.problem" class="border-l-2 border-rust pl-3">It waits: {{ ramp.problem }}</p>
    <button
      v-if="mayEdit"
      type="button"
      class="self-start text-ink-soft underline hover:text-ink"
      :disabled="isSaving"
      @click="save(() => store.advanceRamp())"
    >
      Continue with {{ percent(next) }} now
    </button>
  </section>
</template>
