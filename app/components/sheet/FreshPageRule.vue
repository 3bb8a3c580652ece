<script setup lang="ts">
import type { SheetPageRule } from '~~/core/sheet/content'
import type { FreshThing } from '~/sheets/sheetWork'

const props = defineProps<{ fresh: FreshThing; mayRemove: boolean }>()
const { draft, commit, drop, state } = useFreshThing<SheetPageRule>(() => props.fresh)
</script>

<template>
  <PageRuleFields
    :model-value="draft"
    :disabled="false"
    :may-remove="mayRemove"
    :state="state"
    @commit="commit"
    @remove="drop"
  />
</template>
