<script setup lang="ts">
import type { SheetContent } from '~~/core/sheet/content'

/** Tests that run beside a personalization: each has it in all its variants, or has its visitors to itself. */
const store = useSheetStore()
const api = useApi()
const { draft, commit } = useSheetThing<SheetContent>({ part: 'sheet' }, [['terms']])
const { value: tests, problem } = useLoaded(async () => {
  const { items } = await api('listExperiments', { site: store.place.site, query: { limit: 200 } })
  return items.filter(({ state }) => state === 'running' || state === 'paused')
})
const apart = computed(() => draft.value.terms.apartFrom ?? [])
const inWords = computed(() => {
  const own = (tests.value ?? []).filter(({ id }) => apart.value.includes(id)).map(({ name }) => name)
  return own.length === 0 ? 'have it in all their variants.' : `${own.join(', ')}: visitors to itself.`
})
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
  <details v-if="!problem && tests && tests.length > 0" class="max-w-3xl">
    <summary><span class="font-medium">Tests beside it</span> {{ inWords }}</summary>
    <ul class="mt-2 flex flex-col gap-2 border-l-2 border-line-strong pl-3">
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
  </details>
</template>
