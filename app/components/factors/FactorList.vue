<script setup lang="ts">
import { FIRST_LEVEL_NAME, MOST_FACTORS } from '~~/core/factors/kindOfTest'
import type { SheetFactor } from '~~/core/sheet/content'
import { drawThingId } from '~~/shared/thingId'
import { freshName } from '~/sheets/freshName'

/** The factors of a multivariate test as they are being written. */
const props = defineProps<{ factors: readonly SheetFactor[] }>()
const { make } = useSheetChanges()

function add(): void {
  const name = freshName('Factor', props.factors)
  const levels = [FIRST_LEVEL_NAME, 'Changed'].map((each) => ({ id: drawThingId(), name: each, edits: [] }))
  const item = { id: drawThingId(), name, levels }
  make({ do: 'add', list: { part: 'factors' }, item, before: null }, `Added ${name}.`)
}
</script>

<template>
  <div>
    <ol class="flex flex-col gap-4">
      <FactorFields
        v-for="factor in factors"
        :key="factor.id"
        :factor="factor"
        :may-remove="factors.length > 2"
        @remove="make({ do: 'remove', list: { part: 'factors' }, item: factor }, `Removed ${factor.name}.`)"
      />
    </ol>
    <BaseButton v-if="factors.length < MOST_FACTORS" class="mt-2 -ml-3" kind="quiet" @click="add"
      >Add a factor</BaseButton
    >
  </div>
</template>
