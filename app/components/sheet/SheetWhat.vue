<script setup lang="ts">
import { MOST_VARIANTS } from '~~/shared/experiment'
import { drawThingId } from '~~/shared/thingId'

const route = useRoute('sites-site-experiments-experiment')
const { content, make } = useSheetChanges()
const store = useSheetStore()
const isPreviewing = ref(false)
const variants = computed(() => content.value.variants)

function add(): void {
  const taken = new Set(variants.value.map(({ name }) => name))
  const letters = [...Array(MOST_VARIANTS).keys()].map((position) => `Variant ${variantLetter(position)}`)
  const name = letters.slice(variants.value.length).find((each) => !taken.has(each)) ?? 'Another variant'
  const item = { id: drawThingId(), name, weight: 1, edits: [] }
  make({ do: 'add', list: { part: 'variants' }, item, before: null }, `Added ${name}.`)
}
</script>

<template>
  <SheetSection name="what" title="What" note="The page as it is, and what is tried instead.">
    <template #action>
      <span class="flex flex-wrap items-center gap-x-4">
        <NuxtLink :to="`${route.path}/compare`" class="text-ink-soft hover:text-ink hover:underline"
          >Side by side</NuxtLink
        >
        <BaseButton kind="quiet" @click="isPreviewing = true">Preview links</BaseButton>
        <BaseButton v-if="variants.length < MOST_VARIANTS" kind="quiet" @click="add">Add a variant</BaseButton>
      </span>
    </template>
    <ol class="flex flex-col">
      <VariantRow
        v-for="(variant, position) in variants"
        :key="variant.id"
        :variant="variant"
        :position="position"
        :may-remove="variants.length > 2"
        :may-copy="variants.length < MOST_VARIANTS"
      />
    </ol>
    <PreviewLinks v-if="isPreviewing" v-model:open="isPreviewing" :place="store.place" />
  </SheetSection>
</template>
