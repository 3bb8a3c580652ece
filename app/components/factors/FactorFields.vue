<script setup lang="ts">
import type { SheetFactor } from '~~/core/sheet/content'
import { MOST_LEVELS } from '~~/shared/experiments/sheetParts'
import { drawThingId } from '~~/shared/thingId'
import { freshName } from '~/sheets/freshName'

/** One factor: its name, and its levels with what each of them changes. */
const props = defineProps<{ factor: SheetFactor; mayRemove: boolean }>()
const emit = defineEmits<{ remove: [] }>()
const { make } = useSheetChanges()
const { draft, commit, state } = useSheetThing<SheetFactor>(
  () => ({ part: 'factors', id: props.factor.id }),
  [['name']],
)
const levels = computed(() => ({ part: 'levels' as const, factor: props.factor.id }))

function add(): void {
  const name = freshName('Level', props.factor.levels)
  make({ do: 'add', list: levels.value, item: { id: drawThingId(), name, edits: [] }, before: null }, `Added ${name}.`)
}
</script>

<template>
  <li class="border-l-2 border-line-strong pl-4">
    <div class="flex flex-wrap items-start gap-3">
      <TextField
        v-model="draft.name"
        class="w-72"
        label="Name of the factor"
        :state="state('name')"
        is-bare
        @commit="commit"
      />
      <BaseButton v-if="factor.levels.length < MOST_LEVELS" kind="quiet" @click="add">Add a level</BaseButton>
      <BaseButton v-if="mayRemove" kind="quiet" :aria-label="`Remove the factor ${factor.name}`" @click="emit('remove')"
        >Remove</BaseButton
      >
    </div>
    <ol class="flex flex-col">
      <LevelRow
        v-for="(level, place) in factor.levels"
        :key="level.id"
        :factor="factor"
        :level="level"
        :is-first="place === 0"
        :may-remove="factor.levels.length > 2"
        :may-copy="factor.levels.length < MOST_LEVELS"
      />
    </ol>
  </li>
</template>
