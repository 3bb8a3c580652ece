<script setup lang="ts">
import { conditionInWords } from '~~/core/targeting/conditionWords'
import type { Group } from '~~/core/targeting/condition'
import type { SheetContent } from '~~/core/sheet/content'
import { newTest } from '~/audience/conditionDrafts'

/** Which visitors take part: a sentence, and conditions where it is opened. */
const store = useSheetStore()
const { draft, commit, state } = useSheetThing<SheetContent>({ part: 'sheet' }, [['audience']])
const audience = computed(() => (draft.value.audience as Group | null | undefined) ?? null)
const isOpen = ref(false)
const { name: names } = useConditionNames(store.place.site, audience)
const words = computed(() => inWords(audience.value))
function begin(): void {
  isOpen.value = true
  draft.value.audience ??= { join: 'all', of: [newTest('device')] }
}
function change(group: Group): void {
  draft.value.audience = group
}
function clear(): void {
  draft.value.audience = null
  isOpen.value = false
  commit()
}
const isSaving = ref(false)
function useSaved(id: number): void {
  change({ join: 'all', of: [{ fact: 'audience', is: 'yes', id }] })
  commit()
}
const inWords = (value: unknown) => (value ? conditionInWords(value as Group, names.value) : 'everybody')
const problems = computed(() => state('audience').errors)
</script>

<template>
  <div class="flex max-w-3xl flex-col gap-2">
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span class="font-medium">Audience</span>
      <span class="min-w-0 flex-1">{{ audience ? `Visitors: ${words}.` : 'Everybody who comes to these pages.' }}</span>
      <BaseButton v-if="!isOpen" kind="quiet" @click="begin">{{
        audience ? 'Change the audience' : 'Choose an audience'
      }}</BaseButton>
      <template v-else>
        <BaseButton v-if="audience" kind="quiet" @click="isSaving = true">Save it under a name</BaseButton>
        <BaseButton kind="quiet" @click="clear">Everybody</BaseButton>
        <BaseButton kind="quiet" @click="isOpen = false">Close</BaseButton>
      </template>
    </p>
    <ConditionGroup
      v-if="isOpen && audience"
      is-outermost
      :site-id="store.place.site"
      :group="audience"
      :errors="problems"
      @change="change"
      @commit="commit"
    />
    <FieldConflict
      v-if="state('audience').conflict"
      :conflict="state('audience').conflict!"
      label="Audience"
      :show="inWords"
    />
    <SaveAudienceDialog
      v-if="audience"
      v-model:open="isSaving"
      :site-id="store.place.site"
      :conditions="audience"
      @saved="useSaved"
    />
    <p v-if="problems['']" class="text-sm text-rust" role="alert">{{ problems[''] }}</p>
  </div>
</template>
