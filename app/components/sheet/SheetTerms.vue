<script setup lang="ts">
import { BUCKETS } from '~~/core/assignment/assignment'
import type { SheetContent } from '~~/core/sheet/content'
import { termsInWords, type SheetTerms } from '~~/core/sheet/terms'
import type { Activation } from '~~/core/targeting/activation'

/** On which terms visitors are taken: little by little, beside which others, and from when on a page. */
const store = useSheetStore()
const api = useApi()
const { draft, commit, state } = useSheetThing<SheetContent>({ part: 'sheet' }, [['terms']])
const { value: groups } = useLoaded(() => api('listGroups', { site: store.place.site }))
const terms = computed(() => draft.value.terms)
const names = computed(() => Object.fromEntries((groups.value ?? []).map(({ id, name }) => [id, name])))
const errors = computed(() => state('terms').errors)
const isOpen = ref(false)
const inWords = (value: unknown) => termsInWords(value as SheetTerms, names.value)
const group = computed(() => groups.value?.find(({ id }) => id === terms.value.group) ?? null)

function set(changes: Partial<SheetTerms>): void {
  draft.value.terms = { ...terms.value, ...changes }
}
function choose(changes: Partial<SheetTerms>): void {
  set(changes)
  commit()
}
const groupChoices = computed(() => [
  { value: '', label: 'none: by itself' },
  ...(groups.value ?? []).map(({ id, name }) => ({ value: String(id), label: name })),
])

const UNITS = [
  { value: 'visitor' as const, label: 'a visitor: one browser' },
  { value: 'person' as const, label: 'a person, by an id of the page' },
]
const MOMENTS = [
  { value: 'load', label: 'as the page loads' },
  { value: 'event', label: 'with an event of the page' },
  { value: 'element', label: 'once an element is there' },
  { value: 'call', label: 'when code calls for it' },
] as const
type Moment = (typeof MOMENTS)[number]['value']
const activation = computed(() => terms.value.activation)
const awaited = computed(() => {
  const waited = activation.value
  return waited === null ? '' : waited.on === 'element' ? waited.selector : waited.name
})
const AWAITED = { event: 'Event', element: 'Element (CSS selector)', call: 'Called for as' }
function chooseMoment(moment: Moment): void {
  const next: Record<Moment, Activation | null> = {
    ...{ load: null, event: { on: 'event', name: '' }, call: { on: 'call', name: '' } },
    element: { on: 'element', selector: '' },
  }
  set({ activation: next[moment] })
  if (moment === 'load') commit()
}
function setAwaited(text: string): void {
  const waited = activation.value
  if (!waited) return
  set({ activation: waited.on === 'element' ? { on: 'element', selector: text } : { on: waited.on, name: text } })
}

const steps = computed(() => terms.value.ramp)
function addStep(): void {
  const last = steps.value.at(-1)
  choose({ ramp: [...steps.value, { share: last ? Math.min(last.share * 4, BUCKETS) : BUCKETS / 20, days: 2 }] })
}
function setStep(index: number, changes: { share?: number | string | null; days?: number | string | null }): void {
  const ramp = steps.value.map((step, at) => (at === index ? { ...step, ...changes } : step))
  set({ ramp: ramp as SheetTerms['ramp'] })
}
const asBuckets = (share: number | string | null) => (typeof share === 'number' ? Math.round(share * BUCKETS) : share)
const asNumber = (text: unknown) =>
  String(text).trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : String(text)
</script>

<template>
  <div class="flex max-w-3xl flex-col gap-3">
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span class="font-medium">Terms</span>
      <span class="min-w-0 flex-1 first-letter:uppercase">{{ inWords(terms) }}.</span>
      <BaseButton kind="quiet" @click="isOpen = !isOpen">{{
        isOpen ? 'Close the terms' : 'Change the terms'
      }}</BaseButton>
    </p>
    <div v-if="isOpen" class="flex flex-col gap-4 border-l-2 border-line-strong pl-3">
      <fieldset class="flex flex-col gap-2">
        <legend class="mb-1 text-sm font-medium">Little by little, before the traffic share</legend>
        <div v-for="(step, index) in steps" :key="index" class="flex flex-wrap items-start gap-3">
          <PercentField
            class="w-28"
            :model-value="typeof step.share === 'number' ? step.share / BUCKETS : step.share"
            label="First"
            :error="errors[`ramp[${index}].share`]"
            @update:model-value="setStep(index, { share: asBuckets($event) })"
            @commit="commit"
          />
          <TextField
            class="w-28"
            :model-value="step.days"
            label="for"
            unit="days"
            numeric
            :error="errors[`ramp[${index}].days`]"
            @update:model-value="setStep(index, { days: asNumber($event) })"
            @commit="commit"
          />
          <BaseButton
            class="mt-6"
            kind="quiet"
            :aria-label="`Remove step ${index + 1}`"
            @click="choose({ ramp: steps.toSpliced(index, 1) })"
            >Remove</BaseButton
          >
        </div>
        <p class="text-sm text-ink-soft">
          The next step comes by itself, only while no guardrail is harmed and the data is sound. Everybody keeps their
          variant.
        </p>
        <div><BaseButton class="-ml-3" kind="quiet" @click="addStep">Add a step</BaseButton></div>
      </fieldset>
      <div class="flex flex-wrap items-start gap-3">
        <ChoiceField
          class="w-64"
          :model-value="String(terms.group ?? '')"
          label="Group of experiments that exclude each other"
          :choices="groupChoices"
          :error="errors.group"
          @update:model-value="choose({ group: $event === '' ? null : Number($event) })"
        />
        <TextField
          v-if="group?.kind === 'turns'"
          class="w-32"
          :model-value="terms.rank"
          label="Asked in place"
          numeric
          :error="errors.rank"
          @update:model-value="set({ rank: asNumber($event) as number })"
          @commit="commit"
        />
        <NuxtLink
          :to="`/sites/${store.place.site}/experiments/traffic`"
          class="pt-8 text-sm text-ink-soft underline hover:text-ink"
          >See the groups</NuxtLink
        >
      </div>
      <div class="flex flex-wrap items-start gap-3">
        <ChoiceField
          class="w-64"
          :model-value="activation?.on ?? 'load'"
          label="Takes effect"
          :choices="MOMENTS"
          @update:model-value="chooseMoment($event)"
        />
        <TextField
          v-if="activation"
          class="w-64"
          :model-value="awaited"
          :label="AWAITED[activation.on]"
          :error="errors['activation.name'] ?? errors['activation.selector']"
          @update:model-value="setAwaited(String($event ?? ''))"
          @commit="commit"
        />
      </div>
      <ChoiceField
        class="w-64"
        :model-value="terms.unit"
        label="Who counts as one"
        :choices="UNITS"
        :hint="
          terms.unit === 'person'
            ? 'Whoever signs in halfway takes part from then on, and gets the same on every device. What they did before does not count.'
            : undefined
        "
        @update:model-value="choose({ unit: $event })"
      />
      <label class="flex items-start gap-2">
        <input
          type="checkbox"
          class="mt-1 accent-accent"
          :checked="terms.leaves"
          @change="choose({ leaves: ($event.target as HTMLInputElement).checked })"
        />
        <span
          >Take the changes back when the audience no longer holds
          <span class="block text-sm text-ink-soft">Else they stay for as long as the page is open.</span></span
        >
      </label>
    </div>
    <FieldConflict v-if="state('terms').conflict" :conflict="state('terms').conflict!" label="Terms" :show="inWords" />
    <p v-if="errors['']" class="text-sm text-rust" role="alert">{{ errors[''] }}</p>
  </div>
</template>
