<script setup lang="ts">
import { areSameWidths, widthsProblem, type Widths } from '~~/core/edits/widths'
import { WINDOW_WIDTHS, widthsInWords } from '~/edits/windowWidths'

/** For which widths of the window the edits are made that come next. */
const props = defineProps<{
  /** Those that edits of the variant have already. */
  used: readonly Widths[]
}>()
const chosen = defineModel<Widths | null>({ required: true })
const isOther = ref(false)
const [from, below] = [ref(''), ref('')]
const problem = ref('')

const ranges = computed(() => {
  const all = [...WINDOW_WIDTHS.map(({ widths }) => widths), ...props.used, ...(chosen.value ? [chosen.value] : [])]
  return all.filter((each, place) => all.findIndex((other) => areSameWidths(each, other)) === place)
})
const choices = computed(() => [
  { value: 'all', label: 'All window widths' },
  ...ranges.value.map((widths, place) => ({ value: String(place), label: widthsInWords(widths) })),
  { value: 'other', label: 'Other widths …' },
])
const choice = computed({
  get: () => {
    if (isOther.value) return 'other'
    return chosen.value ? String(ranges.value.findIndex((each) => areSameWidths(each, chosen.value))) : 'all'
  },
  set: (value) => {
    isOther.value = value === 'other'
    if (!isOther.value) chosen.value = ranges.value[Number(value)] ?? null
  },
})
const bound = (typed: string) => (typed.trim() === '' ? null : Number(typed.trim()))
function setOther(): void {
  const widths = { from: bound(from.value), below: bound(below.value) }
  problem.value = widthsProblem(widths) ?? ''
  if (problem.value) return
  chosen.value = widths
  isOther.value = false
}
</script>

<template>
  <div>
    <ChoiceField v-model="choice" label="Edits apply to" :choices="choices" />
    <form v-if="isOther" class="mt-2 flex flex-wrap items-end gap-2" @submit.prevent="setOther">
      <TextField v-model="from" class="w-28" label="From" unit="px" numeric />
      <TextField v-model="below" class="w-28" label="Below" unit="px" numeric />
      <BaseButton type="submit">Set</BaseButton>
    </form>
    <p v-if="isOther && problem" class="mt-1 text-sm text-rust" role="alert">{{ problem }}</p>
  </div>
</template>
