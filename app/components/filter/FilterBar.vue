<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import type { Filter, FilterChange } from '~/composables/useFilter'

/** One bar for the days, the visitors and the pages that a view is about. Whoever uses it keeps them in the address. */
const props = defineProps<{
  filter: Filter
  /** Days back from today; null where two days are given. */
  daysBack: number | null
  choices: EvidenceChoices | null
  /** What it is compared with; left out where nothing can be. */
  compare?: string | null
  /** Whether the view is about the pages that somebody has chosen elsewhere. */
  hasNoPages?: boolean
  /** How many of the filters in the slot `more` are set. */
  countOfMore?: number
}>()
const emit = defineEmits<{ change: [changes: FilterChange] }>()
const segment = computed({
  get: () => props.filter.segment ?? '',
  set: (value: string) => emit('change', { segment: value || null }),
})
const page = computed({
  get: () => props.filter.page ?? '',
  set: (value: string) => emit('change', { page: value || null }),
})
const slots = defineSlots<{ default?: () => unknown; more?: () => unknown }>()
const isCompared = computed(() => props.compare !== undefined && props.compare !== null)
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-5 gap-y-3" role="group" aria-label="Days and visitors">
    <DaysField :filter="filter" :days-back="daysBack" @change="emit('change', $event)" />
    <SegmentField v-model="segment" label="Visitors" :choices="choices" />
    <PagesField v-if="!hasNoPages" v-model="page" label="Saw page" :pages="choices?.pages ?? []" />
    <slot />
    <MoreFilters v-if="slots.more" :count="(countOfMore ?? 0) + (isCompared ? 1 : 0)">
      <CompareField
        v-if="compare !== undefined"
        :compare="compare"
        :choices="choices"
        @change="emit('change', { compare: $event })"
      />
      <slot name="more" />
    </MoreFilters>
    <CompareField
      v-else-if="compare !== undefined"
      :compare="compare"
      :choices="choices"
      @change="emit('change', { compare: $event })"
    />
  </div>
</template>
