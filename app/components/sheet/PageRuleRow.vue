<script setup lang="ts">
import type { PageMatch } from '~~/core/targeting/pageRule'
import type { SheetPageRule } from '~~/core/sheet/content'
import type { FreshThing } from '~/sheets/sheetWork'

/** An address of the sheet, or one that is being written and joins it: the fields stay the same while it does. */
const props = defineProps<{ rule: SheetPageRule; fresh: FreshThing | null; mayRemove: boolean }>()
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
]
const { make } = useSheetChanges()
const saved = useSheetThing<SheetPageRule>(() => ({ part: 'pageRules', id: props.rule.id }), [['match', 'value']])
const fresh = useFreshThing<SheetPageRule>(() => props.fresh)
const draft = computed(() => (props.fresh ? fresh.draft.value : saved.draft.value))
const commit = () => (props.fresh ? fresh.commit() : saved.commit())
const state = (field: 'match' | 'value') => (props.fresh ? fresh.state(field) : saved.state(field))
function remove(): void {
  if (props.fresh) fresh.drop()
  else make({ do: 'remove', list: { part: 'pageRules' }, item: props.rule }, `Removed the address ${props.rule.value}.`)
}
</script>

<template>
  <div class="grid max-w-2xl grid-cols-[8rem_1fr_auto] items-start gap-x-3 gap-y-1 sm:grid-cols-[10rem_1fr_5rem]">
    <ChoiceField v-model="draft.match" label="Address" :choices="MATCHES" :state="state('match')" @commit="commit" />
    <TextField
      v-model="draft.value"
      label="Path"
      placeholder="/crossings/torrin"
      :state="state('value')"
      @commit="commit"
    />
    <BaseButton
      v-if="mayRemove"
      class="mt-6"
      kind="quiet"
      :aria-label="`Remove the address ${rule.value}`"
      @click="remove"
      >Remove</BaseButton
    >
  </div>
</template>
