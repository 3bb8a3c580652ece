<script setup lang="ts">
import type { FieldFigures, FormReport } from '~~/core/evidence/formReport'
import { durationInWords } from '~/data/durations'
import type { TableColumn } from '~/data/tableColumn'

/** One form in the order of its fields: the time in each, what was filled again or left empty, and where people leave. */
const props = defineProps<{ form: FormReport; other: FormReport | null; otherName: string }>()
const longest = computed(() =>
  Math.max(
    1000,
    ...[props.form, ...(props.other ? [props.other] : [])].flatMap(({ fields }) =>
      fields.map(({ time }) => time?.[2] ?? 0),
    ),
  ),
)
const otherField = (name: string) => props.other?.fields.find((field) => field.name === name) ?? null
const share = (part: number, whole: number) => (whole === 0 ? null : part / whole)
const SHARES = {
  reached: (field: FieldFigures, form: FormReport) => share(field.reached, form.begun),
  refilled: (field: FieldFigures) => share(field.refilled, field.reached),
  blank: (field: FieldFigures) => share(field.blank, field.reached),
  left: (field: FieldFigures, form: FormReport) => share(field.left, form.begun - form.sent),
}
type Share = keyof typeof SHARES
const shares: Share[] = ['reached', 'refilled', 'blank', 'left']
const shareColumn = (id: Share, header: string): TableColumn<FieldFigures> => ({
  id,
  header,
  isNumeric: true,
  value: (field) => SHARES[id](field, props.form),
  show: (field) => formatShare(SHARES[id](field, props.form), 1),
})
const columns: TableColumn<FieldFigures>[] = [
  { id: 'label', header: 'Field', value: ({ label }) => label, isHeading: true, isUnsorted: true },
  shareColumn('reached', 'Reached'),
  {
    id: 'time',
    header: 'Median time',
    isNumeric: true,
    value: ({ time }) => time?.[1] ?? null,
    show: ({ time }) => durationInWords(time?.[1] ?? null),
  },
  { id: 'strip', header: 'Time, quartiles', value: () => null, isDrawing: true },
  {
    id: 'hesitation',
    header: 'Before typing',
    isNumeric: true,
    value: ({ hesitation }) => hesitation?.[1] ?? null,
    show: ({ hesitation }) => durationInWords(hesitation?.[1] ?? null),
  },
  shareColumn('refilled', 'Corrected'),
  shareColumn('blank', 'Left empty'),
  shareColumn('left', 'Last field before leaving'),
]
const medianOf = (field: FieldFigures | null) => field?.time?.[1] ?? null
</script>

<template>
  <DataTable
    :label="`Form ${form.form} on ${form.page}`"
    :columns="columns"
    :rows="form.fields"
    :row-key="({ name }) => name"
  >
    <template #cell-label="{ row }">
      <span class="font-medium">{{ row.label }}</span>
      <span v-if="row.kind" class="block text-xs text-ink-soft">{{ row.name }}, {{ row.kind }}</span>
      <span v-else class="block text-xs text-ink-soft">{{ row.name }}; not in the form any more</span>
    </template>
    <template v-for="id in shares" #[`cell-${id}`]="{ row }" :key="id">
      <ChangedNumber
        :text="formatShare(SHARES[id](row, form), 1)"
        :value="SHARES[id](row, form)"
        :other="other && otherField(row.name) ? SHARES[id](otherField(row.name)!, other) : null"
        is-share
      />
    </template>
    <template #cell-time="{ row }">
      <ChangedNumber
        :text="durationInWords(medianOf(row))"
        :value="medianOf(row)"
        :other="medianOf(otherField(row.name))"
      />
    </template>
    <template #cell-strip="{ row }">
      <FieldStrip :field="row" :other="otherField(row.name)" :longest="longest" />
    </template>
  </DataTable>
  <p class="mt-2 text-sm text-ink-soft">
    The bar shows the typical times, from the lower to the upper quartile. The line is the median; the longest here is
    {{ durationInWords(longest) }}.<template v-if="other">
      The thin bar and the small figures are against {{ otherName }}.</template
    >
  </p>
</template>
