<script setup lang="ts">
import type { FindingNow } from '~~/shared/findings/replies'
import { durationInWords } from '~/data/durations'
import type { TableColumn } from '~/data/tableColumn'
import type { Figure, FigureChange } from '~~/core/evidence/figures'
import type { FrozenView } from '~~/shared/findings/finding'

/** The figures of a frozen view, beside those of as many days up to today. */
const props = defineProps<{ frozen: FrozenView; now: FindingNow | null }>()
const shown = (figure: Figure | null): string => {
  if (!figure) return 'gone'
  switch (figure.kind) {
    case 'count':
      return formatCount(figure.value)
    case 'share':
      return figure.of === 0 ? '–' : `${formatShare(figure.count / figure.of, 1)} of ${formatCount(figure.of)}`
    case 'time':
      return figure.value === null ? '–' : durationInWords(figure.value)
    case 'mean':
      return figure.value === null ? '–' : figure.value.toFixed(2)
  }
}
const numberOf = (figure: Figure | null): number | null => {
  if (!figure) return null
  if (figure.kind !== 'share') return figure.value
  return figure.of === 0 ? null : figure.count / figure.of
}
const rows = computed((): FigureChange[] =>
  props.now
    ? props.now.changes
    : props.frozen.figures.map((then) => {
        return { key: then.key, label: then.label, then, now: null, difference: null, isDifferent: null }
      }),
)
const change = ({ difference, isDifferent }: FigureChange) => {
  if (!difference) return '–'
  const [low, high] = [difference.low, difference.high].map((each) => (100 * each).toFixed(1))
  return `${isDifferent === null ? '' : isDifferent ? 'differs: ' : 'within chance: '}${low} to ${high} points`
}
const columns = computed((): TableColumn<FigureChange>[] => [
  { id: 'label', header: 'Figure', value: ({ label }) => label, isHeading: true, isUnsorted: true },
  { id: 'then', header: 'Then', value: ({ then }) => numberOf(then), show: ({ then }) => shown(then), isNumeric: true },
  ...(props.now
    ? [
        {
          id: 'now',
          header: 'Now',
          isNumeric: true,
          value: ({ now }: FigureChange) => numberOf(now),
          show: ({ now }: FigureChange) => shown(now),
        },
        { id: 'change', header: 'Change', value: change, isUnsorted: true },
      ]
    : []),
])
/** Whether the finding still holds, in a sentence. */
const summary = computed(() => {
  if (!props.now) return null
  if (!props.now.isLater) return 'The two periods overlap. Compare again once they do not.'
  const told = props.now.changes.filter(({ isDifferent }) => isDifferent !== null)
  const different = told.filter(({ isDifferent }) => isDifferent)
  if (told.length === 0) return 'None of its figures is a rate, so none can be compared.'
  if (different.length === 0) return `All ${told.length} rates are unchanged, within chance.`
  return `${different.length} of ${told.length} rates changed beyond chance.`
})
</script>

<template>
  <div class="flex flex-col gap-2">
    <p v-if="summary" :class="{ 'font-medium': now?.isLater }">{{ summary }}</p>
    <DataTable
      :key="String(now === null)"
      label="Then and now"
      :columns="columns"
      :rows="rows"
      :row-key="({ key }) => key"
    />
    <p v-if="now" class="text-sm text-ink-soft">
      Now: {{ now.from }} to {{ now.to }}. The intervals of all differences together hold 95 %.
    </p>
  </div>
</template>
