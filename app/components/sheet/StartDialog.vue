<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { DAY } from '~~/core/time/units'
import type { PreflightFinding } from '~~/core/preflight/preflight'
import { conditionInWords } from '~~/core/targeting/conditionWords'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import { heldBackShare } from '~~/core/sheet/heldBack'
import { readPlan, type Forecast } from '~~/core/sheet/planReading'
import { PURPOSE_WORDS } from '~/sheets/purposeWords'

/** Asks once, with what freezes and until when it will likely run. */
const props = defineProps<{
  sheet: ExperimentSheet
  findings: readonly PreflightFinding[]
  forecast: Forecast | null
}>()
const emit = defineEmits<{ start: [] }>()
const open = defineModel<boolean>('open', { required: true })

const reading = computed(() => {
  const { plan, metrics, variants, share } = props.sheet
  const weights = variants.map(({ weight }) => weight)
  return readPlan({ plan, kind: metrics[0]?.kind ?? 'conversion', weights, share }, props.forecast)
})
/** Whole weeks, within the least and the longest run. */
const weeks = computed(() => {
  const { leastWeeks, longestWeeks } = props.sheet.plan
  return Math.min(longestWeeks, Math.max(leastWeeks, Math.ceil(reading.value.weeks ?? longestWeeks)))
})
const until = computed(() => formatDate(Date.now() + weeks.value * 7 * DAY, props.sheet.timeZone))
const words = computed(() => PURPOSE_WORDS[props.sheet.purpose])
const isServed = computed(() => props.sheet.purpose === 'serve')
const heldBack = computed(() => heldBackShare(props.sheet.variants))
const told = computed(() => props.findings.filter(({ isStop }) => !isStop))
</script>

<template>
  <PlainDialog v-model:open="open" :title="words.startQuestion">
    <dl class="grid grid-cols-[6rem_1fr] gap-x-3 gap-y-1.5">
      <dt class="text-ink-soft">Page</dt>
      <dd class="break-words">{{ pageRulesInWords(sheet.pageRules) }}</dd>
      <dt class="text-ink-soft">Visitors</dt>
      <dd>
        {{ formatPercent(sheet.share / 10_000)
        }}{{ sheet.audience ? ` who match: ${conditionInWords(sheet.audience)}` : ''
        }}<template v-if="!isServed"
          >, split {{ sheet.variants.map(({ weight }) => weight).join(' : ') }} between
          {{ sheet.variants.map(({ name }) => name).join(', ') }}</template
        >
      </dd>
      <template v-if="isServed">
        <dt class="text-ink-soft">Held back</dt>
        <dd>{{ heldBack === 0 ? 'nobody' : `${formatPercent(heldBack)} of them` }}</dd>
      </template>
    </dl>
    <dl v-if="!isServed" class="mt-1.5 grid grid-cols-[6rem_1fr] gap-x-3 gap-y-1.5">
      <dt class="text-ink-soft">Decides</dt>
      <dd>{{ sheet.metrics[0]?.name }}, from a lift of {{ formatPercent(sheet.plan.smallestLift) }}</dd>
      <dt class="text-ink-soft">Planned</dt>
      <dd>
        <template v-if="reading.plannedVisitors">{{ formatCount(reading.plannedVisitors) }} visitors, </template>likely
        until {{ until }}
      </dd>
    </dl>
    <p class="mt-3">
      {{ words.freezes }}
    </p>
    <ul v-if="told.length > 0" class="mt-3 flex flex-col gap-1.5 text-sm">
      <li v-for="finding in told" :key="finding.text" class="border-l-2 border-line-strong pl-3">{{ finding.text }}</li>
    </ul>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">Not yet</BaseButton>
      <BaseButton kind="main" @click="emit('start')">Start</BaseButton>
    </template>
  </PlainDialog>
</template>
