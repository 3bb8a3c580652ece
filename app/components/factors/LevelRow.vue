<script setup lang="ts">
import type { SheetFactor, SheetLevel } from '~~/core/sheet/content'
import { drawThingId } from '~~/shared/thingId'

const props = defineProps<{
  factor: SheetFactor
  level: SheetLevel
  /** The page as it is. */
  isFirst: boolean
  mayRemove: boolean
  mayCopy: boolean
}>()
const route = useRoute('sites-site-experiments-experiment')
const { make } = useSheetChanges()
const list = computed(() => ({ part: 'levels' as const, factor: props.factor.id }))
const { draft, commit, state } = useSheetThing<SheetLevel>(() => ({ ...list.value, id: props.level.id }), [['name']])
const edits = computed(() => ({ part: 'edits' as const, variant: props.level.id }))

function copy(): void {
  const { level } = props
  const item = {
    id: drawThingId(),
    name: `${level.name.slice(0, 50)}, copied`,
    edits: level.edits.map((edit) => ({ ...edit, id: drawThingId() })),
  }
  make({ do: 'add', list: list.value, item, before: null }, `Copied ${level.name}.`)
}
</script>

<template>
  <li class="grid gap-x-4 gap-y-1 border-b border-line py-2 last:border-b-0 sm:grid-cols-[12rem_1fr]">
    <TextField
      v-model="draft.name"
      :label="`Name of a level of ${factor.name}`"
      :state="state('name')"
      is-bare
      @commit="commit"
    />
    <div class="min-w-0 pt-1.5">
      <p v-if="isFirst" class="text-ink-soft">The page as it is.</p>
      <p v-else-if="level.edits.length === 0" class="text-ink-soft">Changes nothing yet.</p>
      <EditRows
        v-if="level.edits.length > 0"
        :edits="level.edits"
        @remove="make({ do: 'remove', list: edits, item: $event }, 'Removed the edit.')"
      />
      <div v-if="!isFirst" class="mt-2 flex flex-wrap gap-2">
        <NuxtLink
          :to="`${route.path}/point?level=${level.id}`"
          class="rounded border border-line-strong bg-raised px-3 py-1.5 font-medium hover:bg-neutral-soft"
          >Point at the page</NuxtLink
        >
        <BaseButton v-if="mayCopy" kind="quiet" :aria-label="`Copy ${level.name}`" @click="copy">Copy</BaseButton>
        <BaseButton
          v-if="mayRemove"
          kind="quiet"
          :aria-label="`Remove the level ${level.name}`"
          @click="make({ do: 'remove', list, item: level }, `Removed ${level.name}.`)"
          >Remove</BaseButton
        >
      </div>
    </div>
  </li>
</template>
