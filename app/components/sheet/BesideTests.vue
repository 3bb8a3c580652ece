<script setup lang="ts">
import type { SheetContent } from '~~/core/sheet/content'

/** Tests that run beside a personalization: each has it in all its variants, or has its visitors to itself. */
const store = useSheetStore()
const api = useApi()
const { draft, commit } = useSheetThing<SheetContent>({ part: 'sheet' }, [['terms']])
const { value: tests, problem } = useLoaded(async () => {
  const { items } = await api('listExperiments', { site: store.place.site, query: { state: 'running', limit: 50 } })
  return items
})
const apart = computed(() => draft.value.terms.apartFrom ?? [])
const WAYS = [
  { value: 'included', label: 'has it in all its variants' },
  { value: 'apart', label: 'keeps its visitors to itself' },
]
function choose(test: number, way: string): void {
  const others = apart.value.filter((id) => id !== test)
  draft.value.terms = { ...draft.value.terms, apartFrom: way === 'apart' ? [...others, test] : others }
  commit()
}
</script>

<template>
  <fieldset v-if="!problem && tests && tests.length > 0" class="max-w-3xl">
    <legend class="mb-1 font-medium">Tests beside it</legend>
    <ul class="flex flex-col gap-2">
      <li v-for="test in tests" :key="test.id" class="flex flex-wrap items-end gap-x-4 gap-y-1">
        <ChoiceField
          class="w-64"
          :model-value="apart.includes(test.id) ? 'apart' : 'included'"
          :label="test.name"
          :choices="WAYS"
          @update:model-value="choose(test.id, $event)"
        />
        <span class="pb-2 text-sm text-ink-soft">{{ test.pages }}</span>
      </li>
    </ul>
  </fieldset>
</template>
