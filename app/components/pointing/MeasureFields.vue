<script setup lang="ts">
import { countableThings, type CountableThing } from '~/edits/metricOfElement'
import { isSame } from '~~/core/sheet/isSame'
import type { SheetMetric } from '~~/core/sheet/content'
import { MOST_METRICS } from '~~/shared/experiments/sheetParts'
import type { PointedElement } from '~~/shared/edits/pointing'
import { drawThingId } from '~~/shared/thingId'

/** Makes what visitors do with the element a metric of the experiment. */
const props = defineProps<{ element: PointedElement; siteAddress: string; page: string }>()
const { content, make } = useSheetChanges()
const metrics = computed(() => content.value.metrics)
const things = computed(() => countableThings(props.element, props.siteAddress, props.page))
const hasPrimary = computed(() => metrics.value.some(({ role }) => role === 'primary'))
const isCounted = ({ source }: CountableThing) => metrics.value.some((metric) => isSame(metric.source, source))

function add({ name, kind, source }: CountableThing): void {
  const taken = new Set(metrics.value.map((metric) => metric.name))
  const item: SheetMetric = {
    id: drawThingId(),
    name: taken.has(name) ? `${name.slice(0, 96)}, 2` : name,
    source,

    kind,
    denominator: null,
    cap: null,
    windowDays: null,
    direction: 'up',
    limit: null,
    role: hasPrimary.value ? 'secondary' : 'primary',
  }
  make({ do: 'add', list: { part: 'metrics' }, item, before: null }, `${item.name} is measured.`)
}
</script>

<template>
  <p v-if="things.length === 0" class="text-sm text-ink-soft">
    Nothing about this element can be counted. Choose a link, a button, a form, or an amount.
  </p>
  <ul v-else class="flex flex-col gap-2">
    <li v-for="thing in things" :key="thing.name" class="flex items-center gap-2">
      <span class="min-w-0 flex-1 break-words">{{ thing.label }}</span>
      <span v-if="isCounted(thing)" class="text-sm text-ink-soft">is measured</span>
      <BaseButton v-else :disabled="metrics.length >= MOST_METRICS" @click="add(thing)">Measure it</BaseButton>
    </li>
  </ul>
  <p class="text-sm text-ink-soft">
    {{ hasPrimary ? 'It becomes a secondary metric.' : 'The first one becomes the metric that decides.' }} Change it on
    the sheet.
  </p>
</template>
