<script setup lang="ts">
import { liftChart } from '~/charts/liftChart'
import { linesChart } from '~/charts/linesChart'
import { LIFT_COLUMNS } from '~/sheets/liftRows'
import type { TableColumn } from '~/data/tableColumn'
import { dayAfter } from '~~/core/time/siteDay'
import { MOST_VARIANTS } from '~~/shared/experiments/sheetParts'

/** The pieces in one color scheme, with made-up data. */
defineProps<{ scheme: string }>()
const FIRST = '2026-03-01'
const days = [...Array(30).keys()].filter((index) => index !== 12).map((index) => dayAfter(FIRST, index))
const lifts = days.map((day, index) => ({
  day,
  lift: 0.08 + 0.3 / (index + 1),
  interval: [0.08 - 0.9 / (index + 1), 0.08 + 1.4 / (index + 1)] as const,
}))
const lines = ['Control', 'Warm'].map((name, position) => ({
  name,
  position,
  label: variantLetter(position),
  values: days.map((day, index) => ({ day, value: 40 + position * 6 + ((index * 7) % 11) })),
}))
interface Row {
  name: string
  visitors: number
}
const COLUMNS: readonly TableColumn<Row>[] = [
  { id: 'name', header: 'Page', value: ({ name }) => name, isHeading: true },
  {
    id: 'visitors',
    header: 'Visitors',
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => formatCount(visitors),
    isNumeric: true,
  },
]
const few = [...Array(5).keys()].map((index) => ({ name: `/crossings/${index}`, visitors: (index * 7919) % 4000 }))
const many = [...Array(5000).keys()].map((index) => ({ name: `/page/${index}`, visitors: (index * 7919) % 4000 }))
const sort = ref('-visitors')
const text = ref('')
const share = ref<number | string | null>(0.025)
const choice = ref<'one' | 'other'>('one')
const filter = ref({ from: FIRST, to: dayAfter(FIRST, 27) })
const isDialogOpen = ref(false)
const isDrawerOpen = ref(false)
const CHOICES = [
  { value: 'one' as const, label: 'One' },
  { value: 'other' as const, label: 'Another' },
]
const explain = async () => ({
  title: 'Rate of Warm',
  value: '12.40 %',
  definition: 'Visitors who booked, of all who saw the variant.',
  inputs: [{ name: 'Visitors', value: '1,000' }],
  formula: 'p = conversions / visitors',
  source: null,
  sql: 'SELECT 124 / 1000.0',
})
</script>

<template>
  <div class="flex flex-col gap-8">
    <h2>{{ scheme }}</h2>
    <section class="flex flex-wrap items-center gap-3">
      <BaseButton kind="main">Main</BaseButton><BaseButton>Plain</BaseButton><BaseButton kind="quiet">Quiet</BaseButton
      ><BaseButton disabled>Disabled</BaseButton>
      <BaseButton @click="isDialogOpen = true">Dialog</BaseButton>
      <BaseButton @click="isDrawerOpen = true">Drawer</BaseButton>
      <ExplainedNumber :load="explain">12.40 %</ExplainedNumber>
      <StateBadge v-for="state in ['draft', 'running', 'paused', 'ended'] as const" :key="state" :state="state" />
    </section>
    <section class="grid gap-4 sm:grid-cols-3">
      <TextField v-model="text" label="Text" hint="A hint." placeholder="like this" />
      <TextField v-model="text" label="With a problem" error="Type something else." />
      <PercentField v-model="share" label="Percent" />
      <ChoiceField v-model="choice" label="Choice" :choices="CHOICES" />
      <ButtonRow v-model="choice" label="Row" :choices="CHOICES" />
    </section>
    <section class="flex flex-wrap gap-3">
      <VariantMark v-for="position in MOST_VARIANTS" :key="position" :position="position - 1" />
    </section>
    <section class="flex flex-col gap-3">
      <LoadingNote />
      <EmptyNote text="Nothing is here yet."><BaseButton>Make the first</BaseButton></EmptyNote>
      <ProblemNote text="Vetch cannot be reached." />
      <JobProgress title="Computing numbers" :progress="0.4" />
    </section>
    <FilterBar :filter="filter" :days-back="28" :choices="null" />
    <section class="flex flex-col gap-4">
      <IntervalTrack :interval="[-0.02, 0.12]" :estimate="0.05" :smallest-lift="0.05" :domain="[-0.2, 0.2]" />
      <IntervalTrack :interval="[0.02, 0.12]" :estimate="0.07" :smallest-lift="0.05" :domain="[-0.2, 0.2]" />
      <IntervalTrack :interval="[-0.5, 0.5]" :estimate="0.01" :smallest-lift="0.05" :domain="[-0.2, 0.2]" />
      <div class="distrusted"><span class="cursor-help">12.40 %</span></div>
    </section>
    <ChartFrame
      title="Lift of Warm"
      note="Made up; a day without visitors is a gap; UTC"
      summary="A lift that settles at 8 %."
      :draw="
        (tokens) =>
          liftChart(
            { lifts, position: 1, name: 'Warm', worthwhile: 0.05, markers: [{ day: '2026-03-20', text: 'paused' }] },
            tokens,
          )
      "
      :columns="LIFT_COLUMNS"
      :rows="lifts"
      :row-key="({ day }) => day"
    />
    <ChartFrame
      title="Orders a day"
      note="Made up; UTC"
      summary="Orders of two variants."
      :draw="(tokens) => linesChart({ lines, unit: 'orders', format: formatCount }, tokens)"
      :columns="COLUMNS"
      :rows="few"
      :row-key="({ name }) => name"
    />
    <DataTable v-model:sort="sort" label="Few pages" :columns="COLUMNS" :rows="few" :row-key="({ name }) => name" />
    <DataTable v-model:sort="sort" label="Many pages" :columns="COLUMNS" :rows="many" :row-key="({ name }) => name" />
    <PlainDialog v-model:open="isDialogOpen" title="A dialog">
      <p>It closes with Escape.</p>
      <template #actions><BaseButton @click="isDialogOpen = false">Close</BaseButton></template>
    </PlainDialog>
    <SideDrawer v-model:open="isDrawerOpen" title="A drawer"><p>Details of one thing.</p></SideDrawer>
    <ExplanationDialog />
  </div>
</template>
