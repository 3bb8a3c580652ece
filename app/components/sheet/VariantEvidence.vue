<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { pageText } from '~~/shared/evidence/filter'
import { runDays } from '~/sheets/runDays'

/** What visitors of each variant did, in the views of Evidence. */
const props = defineProps<{ sheet: ExperimentSheet }>()
const page = computed(() => {
  const [rule] = props.sheet.pageRules.filter(({ isExcluded }) => !isExcluded)
  return rule && (rule.part ?? 'page') === 'page' ? pageText(rule) : null
})
/** The days of the run. */
const days = computed(() => runDays(props.sheet))
const VIEWS = [
  { view: 'heatmap', label: 'Heatmap', pageAs: 'of' },
  { view: 'recordings', label: 'Recordings', pageAs: 'page' },
  { view: 'funnels', label: 'Funnels', pageAs: null },
  { view: 'forms', label: 'Forms', pageAs: null },
  { view: 'visitors', label: 'Visitors', pageAs: null },
] as const
/** From the view to the one that a reader compares it with: visitors of the control. */
function place({ view, pageAs }: (typeof VIEWS)[number], position: number) {
  const variant = (each: number) => `variant:${props.sheet.id}.${each}`
  return {
    path: `/sites/${props.sheet.siteId}/evidence/${view}`,
    query: {
      from: days.value.from,
      to: days.value.to,
      segment: variant(position),
      ...(position > 0 && view !== 'recordings' ? { compare: variant(0) } : {}),
      ...(pageAs && page.value ? { [pageAs]: page.value } : {}),
    },
  }
}
</script>

<template>
  <section aria-labelledby="what-they-did">
    <h3 id="what-they-did" class="mb-1">What visitors did</h3>
    <ul class="flex flex-col gap-1">
      <li
        v-for="(variant, position) in sheet.variants"
        :key="variant.id"
        class="flex flex-wrap items-center gap-x-4 gap-y-1"
      >
        <span class="flex w-full items-center gap-2 sm:w-48"
          ><VariantMark :position="position" /> {{ variant.name }}</span
        >
        <NuxtLink
          v-for="each in VIEWS"
          :key="each.view"
          :to="place(each, position)"
          :aria-label="`${each.label}, ${variant.name}`"
          class="text-accent underline"
          >{{ each.label }}</NuxtLink
        >
      </li>
    </ul>
  </section>
</template>
