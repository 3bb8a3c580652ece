<script setup lang="ts">
import type { SheetContent, SheetPageRule } from '~~/core/sheet/content'
import { blankPageRule } from '~/sheets/freshThings'

const props = defineProps<{ mayEdit: boolean }>()
const store = useSheetStore()
const { content } = useSheetChanges()
const { kept } = store.work!
const traffic = useSheetThing<SheetContent>({ part: 'sheet' }, [['share']])
const isDraft = computed(() => store.sheet?.state === 'draft')
const isFrozen = computed(() => !props.mayEdit || !isDraft.value)
const rows = computed(() => [
  ...content.value.pageRules.map((rule) => ({ rule, fresh: null })),
  ...(isFrozen.value ? [] : kept.fresh)
    .filter(({ list }) => list.part === 'pageRules')
    .map((fresh) => ({ rule: fresh.item as SheetPageRule, fresh })),
])
/** The sheet counts buckets of 10,000. */
const share = computed({
  get: () =>
    typeof traffic.draft.value.share === 'number' ? traffic.draft.value.share / 10_000 : traffic.draft.value.share,
  set: (value: number | string | null) =>
    ((traffic.draft.value as { share: unknown }).share =
      typeof value === 'number' ? Number((value * 10_000).toFixed(6)) : value),
})
const shareState = computed<FieldState>(() => {
  const state = traffic.state('share')
  const { conflict } = state
  return conflict ? { ...state, conflict: { ...conflict, theirs: Number(conflict.theirs) / 10_000 } } : state
})
const totalWeight = computed(() => content.value.variants.reduce((sum, { weight }) => sum + weight, 0))

function addRule(): void {
  kept.fresh = [...kept.fresh, { list: { part: 'pageRules' }, item: blankPageRule() }]
}
onMounted(() => {
  if (!isFrozen.value && rows.value.length === 0) addRule()
})
</script>

<template>
  <SheetSection name="who" title="Who" note="On which page, and which share of its visitors.">
    <div class="flex flex-col gap-5">
      <div class="flex flex-col gap-2">
        <PageRuleRow
          v-for="{ rule, fresh } in rows"
          :key="rule.id"
          :rule="rule"
          :fresh="fresh"
          :disabled="isFrozen"
          :may-remove="rows.length > 1"
        />
        <div v-if="!isFrozen">
          <BaseButton class="-ml-3" kind="quiet" @click="addRule">Add another address</BaseButton>
        </div>
      </div>
      <div class="flex flex-wrap gap-x-8 gap-y-4">
        <PercentField
          v-model="share"
          class="w-40"
          label="Traffic share"
          :hint="isDraft ? undefined : 'Can only be raised now.'"
          :disabled="!mayEdit || store.sheet?.state === 'ended'"
          :state="shareState"
          @commit="traffic.commit"
        />
        <fieldset>
          <legend class="mb-1 text-sm font-medium">Split</legend>
          <div class="flex flex-wrap gap-4">
            <VariantWeight
              v-for="(variant, position) in content.variants"
              :key="variant.id"
              :variant="variant"
              :position="position"
              :total="totalWeight"
              :disabled="isFrozen"
            />
          </div>
        </fieldset>
      </div>
    </div>
  </SheetSection>
</template>
