<script setup lang="ts">
import type { SheetPageRule } from '~~/core/sheet/content'

const props = defineProps<{ rule: SheetPageRule; disabled: boolean; mayRemove: boolean }>()
const { make } = useSheetChanges()
const { draft, commit, state } = useSheetThing<SheetPageRule>(
  () => ({ part: 'pageRules', id: props.rule.id }),
  [['match', 'value']],
)
const remove = () =>
  make({ do: 'remove', list: { part: 'pageRules' }, item: props.rule }, `Removed the address ${props.rule.value}.`)
</script>

<template>
  <PageRuleFields
    v-model="draft"
    :disabled="disabled"
    :may-remove="mayRemove"
    :state="state"
    @commit="commit"
    @remove="remove"
  />
</template>
