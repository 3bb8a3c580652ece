<script setup lang="ts">
import type { SheetVariant } from '~~/core/sheet/content'
import { drawThingId } from '~~/shared/thingId'

const props = defineProps<{
  variant: SheetVariant
  position: number
  mayRemove: boolean
  mayCopy: boolean
  /** Of a personalization, the wordings that it is one of. */
  wordings?: readonly SheetVariant[]
}>()
const route = useRoute('sites-site-experiments-experiment')
const { make } = useSheetChanges()
const { draft, commit, state } = useSheetThing<SheetVariant>(
  () => ({ part: 'variants', id: props.variant.id }),
  [['name']],
)
const edits = computed(() => ({ part: 'edits' as const, variant: props.variant.id }))
const redirect = computed(() => props.variant.edits.find((edit) => edit.kind === 'redirect') ?? null)
const isRedirecting = ref(false)

/** One place up: the first wording that fits is shown. */
function moveUp(): void {
  const before = props.wordings![props.position - 2]!.id
  const { id, name } = props.variant
  make({ do: 'move', list: { part: 'variants' }, id, before }, `Moved ${name} up.`)
}
function copy(): void {
  const { variant } = props
  const name = `${variant.name.slice(0, 50)}, copied`
  const item = {
    ...variant,
    id: drawThingId(),
    name,
    edits: variant.edits.map((edit) => ({ ...edit, id: drawThingId() })),
  }
  make({ do: 'add', list: { part: 'variants' }, item, before: null }, `Copied ${variant.name}.`)
}
</script>

<template>
  <li class="grid gap-x-4 gap-y-2 border-b border-line py-3 last:border-b-0 sm:grid-cols-[2.5rem_12rem_1fr]">
    <span class="pt-2"><VariantMark :position="position" /></span>
    <TextField
      v-model="draft.name"
      :label="`Name of variant ${variantLetter(position)}`"
      :state="state('name')"
      is-bare
      @commit="commit"
    />
    <div class="min-w-0 pt-1.5">
      <p v-if="position === 0" class="text-ink-soft">The page as it is.</p>
      <p v-else-if="variant.edits.length === 0" class="text-ink-soft">Changes nothing yet.</p>
      <EditRows
        v-else
        :edits="variant.edits.filter(({ kind }) => kind !== 'redirect')"
        @remove="make({ do: 'remove', list: edits, item: $event }, 'Removed the edit.')"
      />
      <RedirectFields
        v-if="position > 0 && (redirect || isRedirecting)"
        :variant="variant"
        :redirect="redirect"
        @done="isRedirecting = false"
      />
      <WordingAudience
        v-if="position > 0 && wordings && (wordings.length > 1 || variant.audience)"
        class="mt-2"
        :variant="variant"
        :is-first="position === 1"
      />
      <div v-if="position > 0" class="mt-2 flex flex-wrap gap-2">
        <NuxtLink
          v-if="!redirect"
          :to="`${route.path}/point?variant=${position}`"
          class="rounded border border-line-strong bg-raised px-3 py-1.5 font-medium hover:bg-neutral-soft"
          >Point at the page</NuxtLink
        >
        <BaseButton v-if="!redirect && !isRedirecting && variant.edits.length === 0" @click="isRedirecting = true"
          >Send visitors to another page</BaseButton
        >
        <BaseButton v-if="mayCopy" kind="quiet" :aria-label="`Copy ${variant.name}`" @click="copy">Copy</BaseButton>
        <BaseButton v-if="wordings && position > 1" kind="quiet" :aria-label="`Move ${variant.name} up`" @click="moveUp"
          >Move up</BaseButton
        >
        <BaseButton
          v-if="mayRemove"
          kind="quiet"
          @click="make({ do: 'remove', list: { part: 'variants' }, item: variant }, `Removed ${variant.name}.`)"
          >Remove {{ variant.name }}</BaseButton
        >
      </div>
    </div>
  </li>
</template>
