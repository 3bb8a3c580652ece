<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { SplitView } from '~~/shared/experiments/resultsReplies'
import type { TableColumn } from '~/data/tableColumn'
import type { LeftOut } from '~/composables/useLeavingOut'
import { leftOutBy, recordingsOf, splitValueName, TRAIT_NAMES } from '~/sheets/splitTraits'

/** Visitors of each variant by the values of one trait, against what the weights say. */
const props = defineProps<{
  sheet: ExperimentSheet
  split: SplitView
  trait: SplitView['traits'][number]
  mayDecide: boolean
}>()
const emit = defineEmits<{ leaveOut: [whom: LeftOut, reason: string] }>()
type Row = SplitView['traits'][number]['values'][number]
const name = ({ value }: Row) => splitValueName(props.trait.trait, value, props.split, props.sheet.timeZone)
const columns = computed<TableColumn<Row>[]>(() => [
  { id: 'value', header: TRAIT_NAMES[props.trait.trait], value: name, isHeading: true },
  ...props.split.arms.map((arm, position): TableColumn<Row> => ({
    id: `arm${position}`,
    header: arm,
    value: ({ visitors }) => visitors[position]!,
    show: ({ visitors, expected }) =>
      `${formatCount(visitors[position]!)} of ${formatCount(Math.round(expected[position]!))}`,
    isNumeric: true,
  })),
  {
    id: 'p',
    header: 'p, corrected',
    value: ({ adjustedPValue }) => adjustedPValue,
    show: ({ adjustedPValue }) => (adjustedPValue === null ? 'too few' : formatPValue(adjustedPValue)),
    isNumeric: true,
  },
  { id: 'off', header: 'Split', value: verdictOf },
  { id: 'actions', header: 'Recordings', value: () => null, isDrawing: true },
])
function verdictOf({ isOff, othersPValue }: Row): string {
  if (!isOff) return ''
  return props.trait.matters && othersPValue >= 0.01 ? '✕ off, others as set' : '✕ off'
}
const statement = computed(() => {
  const { matters, adjustedPValue } = props.trait
  if (adjustedPValue === null) return 'There is nothing to compare.'
  return matters
    ? `The split depends on this: ${formatPEquals(adjustedPValue)}.`
    : `The split does not depend on this: ${formatPEquals(adjustedPValue)}.`
})
const toLeaveOut = ({ value }: Row) => leftOutBy(props.trait.trait, value, props.split, props.sheet)
</script>

<template>
  <div>
    <p class="mb-1 text-sm">
      {{ statement }} <span class="text-ink-soft">Visitors of each variant, and how many were expected.</span>
    </p>
    <DataTable
      :label="`Visitors by variant and ${TRAIT_NAMES[trait.trait].toLowerCase()}`"
      :columns="columns"
      :rows="trait.values"
      :row-key="({ value }) => value"
    >
      <template #cell-off="{ row }">
        <span class="text-rust">{{ verdictOf(row) }}</span>
        <BaseButton
          v-if="row.isOff && mayDecide && toLeaveOut(row)"
          class="py-0"
          kind="quiet"
          @click="emit('leaveOut', toLeaveOut(row)!, `The split is off: ${name(row)}.`)"
          >Leave out</BaseButton
        >
      </template>
      <template #cell-actions="{ row }">
        <span
          v-if="recordingsOf(sheet, 0, trait.trait, row.value)"
          class="flex items-center gap-x-2 text-sm whitespace-nowrap"
        >
          <span class="text-ink-soft">Recordings</span>
          <template v-for="(arm, position) in split.arms" :key="arm">
            <NuxtLink
              v-if="recordingsOf(sheet, position, trait.trait, row.value)"
              :to="recordingsOf(sheet, position, trait.trait, row.value)!"
              :aria-label="`Recordings of ${arm}, ${name(row)}`"
              class="text-accent underline"
              ><VariantMark :position="position" /></NuxtLink
          ></template>
        </span>
      </template>
    </DataTable>
  </div>
</template>
