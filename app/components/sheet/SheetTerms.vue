<script setup lang="ts">
import type { SheetContent } from '~~/core/sheet/content'
import { termsInWords, type SheetTerms } from '~~/core/sheet/terms'

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
/** Messages about the steps of the ramp, by their places. */
const ofRamp = computed(() =>
  Object.fromEntries(
    Object.entries(errors.value).flatMap(([path, message]) =>
      path.startsWith('ramp') ? [[path.slice('ramp'.length), message]] : [],
    ),
  ),
)
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
      <RampFields :steps="terms.ramp" :errors="ofRamp" @change="set({ ramp: $event })" @commit="commit" />
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
          @update:model-value="set({ rank: numberOrTyped($event) as number })"
          @commit="commit"
        />
        <NuxtLink
          :to="`/sites/${store.place.site}/experiments/traffic`"
          class="pt-8 text-sm text-ink-soft underline hover:text-ink"
          >See the groups</NuxtLink
        >
      </div>
      <ActivationFields
        :activation="terms.activation"
        :error="errors['activation.name'] ?? errors['activation.selector']"
        @change="set({ activation: $event })"
        @commit="commit"
      />
      <ChoiceField
        class="w-64"
        :model-value="terms.unit"
        label="Counted as one visitor"
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
          <span class="block text-sm text-ink-soft">Otherwise they stay until the page is closed.</span></span
        >
      </label>
    </div>
    <FieldConflict v-if="state('terms').conflict" :conflict="state('terms').conflict!" label="Terms" :show="inWords" />
    <p v-if="errors['']" class="text-sm text-rust" role="alert">{{ errors[''] }}</p>
  </div>
</template>
