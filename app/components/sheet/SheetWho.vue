<script setup lang="ts">
import type { SheetContent, SheetPageRule } from '~~/core/sheet/content'
import type { PageRule } from '~~/core/targeting/pageRule'
import { drawThingId } from '~~/shared/thingId'
import { blankPageRule } from '~/sheets/freshThings'

const store = useSheetStore()
const { content, make } = useSheetChanges()
const { kept } = store.work!
const traffic = useSheetThing<SheetContent>({ part: 'sheet' }, [['share']])
const rows = computed(() => [
  ...content.value.pageRules.map((rule) => ({ rule, fresh: null })),
  ...kept.fresh
    .filter(({ list }) => list.part === 'pageRules')
    .map((fresh) => ({ rule: fresh.item as SheetPageRule, fresh })),
])
const totalWeight = computed(() => content.value.variants.reduce((sum, { weight }) => sum + weight, 0))

/** Rules as they are being typed. */
const typed = ref(new Map<string, SheetPageRule>())
const shown = computed(() => rows.value.map(({ rule }) => typed.value.get(rule.id) ?? rule))
function useRules(rules: PageRule[]): void {
  kept.fresh = kept.fresh.filter(({ list }) => list.part !== 'pageRules')
  const to = { pageRules: rules.map((rule) => ({ ...rule, id: drawThingId() })) }
  make({ do: 'replace', from: { pageRules: content.value.pageRules }, to }, 'Took the rules from the examples.')
}

function addRule(): void {
  kept.fresh = [...kept.fresh, { list: { part: 'pageRules' }, item: blankPageRule() }]
}
onMounted(() => {
  if (rows.value.length === 0) addRule()
})
</script>

<template>
  <SheetSection name="who" title="Who" note="On which pages, which visitors, and which share of them.">
    <div class="flex flex-col gap-5">
      <div class="flex flex-col gap-2">
        <PageRuleRow
          v-for="{ rule, fresh } in rows"
          :key="rule.id"
          :rule="rule"
          :fresh="fresh"
          :may-remove="rows.length > 1"
          @typed="typed.set(rule.id, $event)"
        />
        <div>
          <BaseButton class="-ml-3" kind="quiet" @click="addRule">Add another address</BaseButton>
        </div>
      </div>
      <OccurredAddresses class="max-w-2xl" :site-id="store.place.site" :rules="shown" may-edit @use="useRules" />
      <SheetAudience />
      <SheetTerms />
      <BesideTests v-if="store.sheet?.purpose === 'serve'" />
      <div class="flex flex-wrap gap-x-8 gap-y-4">
        <TrafficShare :traffic="traffic" />
        <HeldBack v-if="store.sheet?.purpose === 'serve' && content.variants[0]" :control="content.variants[0]" />
        <fieldset v-else>
          <legend class="mb-1 text-sm font-medium">Split</legend>
          <p v-if="content.factors.length > 0" class="mt-1.5 text-ink-soft">
            Even between {{ content.variants.length }} combinations,
            {{ formatShare(1 / content.variants.length, 1) }} each.
          </p>
          <div v-else class="flex flex-wrap gap-4">
            <VariantWeight
              v-for="(variant, position) in content.variants"
              :key="variant.id"
              :variant="variant"
              :position="position"
              :total="totalWeight"
            />
          </div>
        </fieldset>
      </div>
    </div>
  </SheetSection>
</template>
