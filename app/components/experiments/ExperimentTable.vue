<script setup lang="ts">
import { TrashIcon } from '@heroicons/vue/20/solid'
import type { ExperimentSummary } from '~~/shared/experiment'

const props = defineProps<{
  experiments: readonly ExperimentSummary[]
  siteId: number
  timeZone: string
  mayEdit: boolean
}>()
const DAY = 86_400_000
const emit = defineEmits<{ remove: [experiment: ExperimentSummary] }>()
const rows = useTemplateRef<HTMLElement[]>('links')

/** One scale for all rows, wide enough for most intervals and no wider than is readable. */
const domain = computed<[number, number]>(() => {
  return symmetricDomain(props.experiments.flatMap((each) => each.best?.interval ?? []).map(Math.abs), 0.1)
})
function move(index: number): void {
  const links = rows.value?.map((row) => ('$el' in row ? (row.$el as HTMLElement) : row)) ?? []
  links[Math.min(Math.max(index, 0), links.length - 1)]?.focus()
}
/** Day 12 of 42, until Dec 3 at the latest; or from when to when it ran. */
function runInWords({ startedAt, endedAt, longestWeeks }: ExperimentSummary): string {
  const from = Date.parse(startedAt!)
  if (endedAt) return `${shortDate(startedAt!)} – ${shortDate(endedAt)}`
  const days = longestWeeks * 7
  return `day ${Math.floor((Date.now() - from) / DAY) + 1} of ${days}, to ${shortDate(from + days * DAY)}`
}
const shortDate = (at: string | number) => formatDate(at, props.timeZone).replace(/, \d{4}$/, '')
const mayRemove = (each: ExperimentSummary) => props.mayEdit && (each.state === 'draft' || each.state === 'ended')
</script>

<template>
  <div class="relative overflow-x-auto">
    <table class="w-full min-w-180 border-collapse">
      <thead>
        <tr
          class="border-b border-line-strong text-left text-sm text-ink-soft [&>th]:px-2 [&>th]:pb-1.5 [&>th]:font-medium"
        >
          <th>Experiment</th>
          <th>State</th>
          <th class="text-right">Visitors</th>
          <th>Lift of the best variant</th>
          <th>Verdict</th>
          <th><span class="sr-only">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(each, index) in experiments"
          :key="each.id"
          class="border-b border-line align-top hover:bg-neutral-soft [&>td]:px-2 [&>td]:py-2.5"
        >
          <td class="max-w-72">
            <NuxtLink
              ref="links"
              :to="`/sites/${siteId}/experiments/${each.id}`"
              class="font-semibold hover:underline"
              @keydown.down.prevent="move(index + 1)"
              @keydown.up.prevent="move(index - 1)"
              >{{ each.name }}</NuxtLink
            >
            <span class="block truncate font-mono text-xs text-ink-soft">{{ each.pages || 'no page yet' }}</span>
          </td>
          <td>
            <StateBadge :state="each.state" />
            <span v-if="each.startedAt" class="block text-sm whitespace-nowrap text-ink-soft">{{
              runInWords(each)
            }}</span>
          </td>
          <td class="text-right">{{ formatCount(each.visitors) }}</td>
          <td class="w-72">
            <span v-if="each.best" class="flex items-center gap-2">
              <VariantMark :position="each.best.position" />
              <span class="w-18 shrink-0 text-right whitespace-nowrap">{{ formatLift(each.best.lift) }}</span>
              <IntervalTrack
                small
                :interval="each.best.interval"
                :estimate="each.best.lift"
                :smallest-lift="each.smallestLift"
                :domain="domain"
              />
            </span>
            <span v-else class="text-ink-soft">–</span>
          </td>
          <td>{{ each.verdict?.title ?? '–' }}</td>
          <td class="w-8">
            <button
              v-if="mayRemove(each)"
              type="button"
              class="rounded p-1 text-ink-soft hover:text-rust"
              :aria-label="`Delete ${each.name}`"
              title="Delete"
              @click="emit('remove', each)"
            >
              <TrashIcon class="size-4" aria-hidden="true" />
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
