<script setup lang="ts">
import type { FunnelView } from '~~/shared/evidence/replies'
import { shareDifference } from '~~/core/statistics/newcombe'
import { durationInWords } from '~/data/durations'
import type { FunnelInput } from '~~/shared/evidence/funnel'

/** One row a step: a bar as wide as those still there, the loss hatched behind it, and the time since the step before. */
const props = defineProps<{
  plan: FunnelInput
  report: FunnelView
  other: FunnelView | null
  /** Whom the report is of, named where it is compared. */
  name: string
  otherName: string
  /** Whether the two have nobody in common, so that their difference has an interval. */
  isIndependent: boolean
}>()
const emit = defineEmits<{ left: [step: number] }>()
const first = computed(() => props.report.steps[0]!.reached)
const otherFirst = computed(() => props.other?.steps[0]?.reached ?? 0)
const width = (count: number, whole: number) => `${whole === 0 ? 0 : (count / whole) * 100}%`
const unit = computed(() => (props.plan.isWithinSession ? 'sessions' : 'visitors'))
const rows = computed(() =>
  props.plan.steps.map(({ name }, index) => {
    const { reached, time } = props.report.steps[index]!
    const before = index === 0 ? reached : props.report.steps[index - 1]!.reached
    const other = props.other?.steps[index]
    const difference =
      other && index > 0
        ? shareDifference({ count: reached, of: first.value }, { count: other.reached, of: otherFirst.value })
        : null
    const otherBefore = index === 0 ? other?.reached : props.other?.steps[index - 1]?.reached
    return { name, reached, time, before, lost: before - reached, other, otherBefore, difference }
  }),
)
/** Of those who began, and of those who were there a step before. */
function sharesInWords(reached: number, began: number, before: number, isFirst: boolean): string {
  if (isFirst) return ''
  const share = (whole: number) => formatShare(whole === 0 ? null : reached / whole, 1)
  return `, ${share(began)} of the first step, ${share(before)} of the step before`
}
const inPoints = (share: number) => `${share < 0 ? '−' : '+'}${Math.abs(share * 100).toFixed(1)}`
</script>

<template>
  <ol class="flex flex-col gap-3" data-testid="funnel">
    <li v-for="(row, index) in rows" :key="index" class="grid gap-x-4 gap-y-1 sm:grid-cols-[11rem_minmax(0,1fr)_15rem]">
      <span class="font-medium break-words">{{ index + 1 }}. {{ row.name }}</span>
      <div class="flex flex-col gap-1">
        <div
          class="relative h-6"
          role="img"
          :aria-label="`${formatCount(row.reached)} ${unit}, ${formatShare(first === 0 ? null : row.reached / first, 1)} of the first step`"
        >
          <div
            class="hatched absolute inset-y-0 left-0 text-line-strong"
            :style="{ width: width(row.before, first) }"
          />
          <div class="absolute inset-y-0 left-0 bg-ink-soft" :style="{ width: width(row.reached, first) }" />
        </div>
        <div v-if="row.other" class="h-2 bg-line-strong" :style="{ width: width(row.other.reached, otherFirst) }" />
        <p v-if="row.other" class="text-xs text-ink-soft">
          {{ otherName }} · {{ formatCount(row.other.reached) }} {{ unit
          }}{{ sharesInWords(row.other.reached, otherFirst, row.otherBefore ?? 0, index === 0)
          }}<template v-if="row.difference"
            >; difference of the first step {{ inPoints(row.difference.difference) }} pp<template v-if="isIndependent"
              >, 95 % interval {{ inPoints(row.difference.low) }} to {{ inPoints(row.difference.high) }}</template
            ></template
          >
        </p>
      </div>
      <div class="text-sm">
        <template v-if="other">{{ name }} · </template>
        <span class="font-semibold">{{ formatCount(row.reached) }}</span> {{ unit
        }}{{ sharesInWords(row.reached, first, row.before, index === 0)
        }}<template v-if="index > 0">
          <button
            v-if="row.lost > 0"
            type="button"
            class="block text-accent underline"
            @click="emit('left', index - 1)"
          >
            {{ formatCount(row.lost) }} dropped off here
          </button>
          <span v-if="row.time" class="block text-ink-soft"
            >{{ durationInWords(row.time[1]) }} (typically {{ durationInWords(row.time[0]) }} to
            {{ durationInWords(row.time[2]) }})</span
          >
        </template>
      </div>
    </li>
  </ol>
</template>
