<script setup lang="ts">
import type { PageRule } from '~~/core/targeting/pageRule'
import type { SheetPageRule } from '~~/core/sheet/content'
import type { FreshThing } from '~/sheets/sheetWork'

/** A rule of the sheet, or one that is being written and joins it: the fields stay the same while it does. */
const props = defineProps<{ rule: SheetPageRule; fresh: FreshThing | null; mayRemove: boolean }>()
/** What stands in the fields while it is being typed. */
const emit = defineEmits<{ typed: [rule: SheetPageRule] }>()
const { make } = useSheetChanges()
const saved = useSheetThing<SheetPageRule>(
  () => ({ part: 'pageRules', id: props.rule.id }),
  [['match', 'value', 'part', 'parameter'], ['isExcluded'], ['ignoresCase'], ['isStrictSlash']],
)
const fresh = useFreshThing<SheetPageRule>(() => props.fresh)
const draft = computed(() => (props.fresh ? fresh.draft.value : saved.draft.value))
const commit = () => (props.fresh ? fresh.commit() : saved.commit())
const state = (field: keyof PageRule) => (props.fresh ? fresh.state(field) : saved.state(field))
watch(draft, (rule) => emit('typed', { ...rule, id: props.rule.id }), { deep: true })
function remove(): void {
  if (props.fresh) fresh.drop()
  else make({ do: 'remove', list: { part: 'pageRules' }, item: props.rule }, `Removed the address ${props.rule.value}.`)
}
</script>

<template>
  <PageRuleFields
    class="max-w-2xl"
    :rule="draft"
    :state="state"
    @change="Object.assign(draft, $event)"
    @commit="commit"
  >
    <BaseButton v-if="mayRemove" kind="quiet" :aria-label="`Remove the address ${rule.value}`" @click="remove"
      >Remove</BaseButton
    >
  </PageRuleFields>
</template>
