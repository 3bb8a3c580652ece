<script setup lang="ts">
import { MOST_VARIANTS } from '~~/shared/experiments/sheetParts'
import { asMultivariate, asSplitTest } from '~~/core/factors/kindOfTest'
import { drawThingId } from '~~/shared/thingId'
import { PURPOSE_WORDS } from '~/sheets/purposeWords'

const route = useRoute('sites-site-experiments-experiment')
const { content, make } = useSheetChanges()
const store = useSheetStore()
const isPreviewing = ref(false)
const pictures = useVariantPictures(
  () => store.place,
  () => store.work?.served.value?.version,
)
const emit = defineEmits<{
  /** Pictures were taken: preflight knows more. */
  pictured: []
}>()
watch(pictures.isWorking, (isWorking) => isWorking || emit('pictured'))
const variants = computed(() => content.value.variants)
const purpose = computed(() => store.sheet?.purpose ?? 'test')
const isServed = computed(() => purpose.value === 'serve')
const mayAdd = computed(() => variants.value.length < MOST_VARIANTS)
const wordings = computed(() => (isServed.value ? variants.value.slice(1) : undefined))
const isMultivariate = computed(() => content.value.factors.length > 0)
const hasRedirect = computed(() => variants.value.some(({ edits }) => edits.some(({ kind }) => kind === 'redirect')))

function add(): void {
  const taken = new Set(variants.value.map(({ name }) => name))
  if (isServed.value) return addWording(taken)
  const letters = [...Array(MOST_VARIANTS).keys()].map((position) => `Variant ${variantLetter(position)}`)
  const name = letters.slice(variants.value.length).find((each) => !taken.has(each)) ?? 'Another variant'
  const item = { id: drawThingId(), name, weight: 1, edits: [] }
  make({ do: 'add', list: { part: 'variants' }, item, before: null }, `Added ${name}.`)
}
/** Another wording, for an audience of its own. */
function addWording(taken: ReadonlySet<string>): void {
  const names = [...Array(MOST_VARIANTS).keys()].map((position) => `Wording ${position + 1}`)
  const name = names.slice(variants.value.length - 1).find((each) => !taken.has(each)) ?? 'Another wording'
  const item = { id: drawThingId(), name, weight: 0, edits: [] }
  make({ do: 'add', list: { part: 'variants' }, item, before: null }, `Added ${name}.`)
}
</script>

<template>
  <SheetSection name="what" title="What" :note="PURPOSE_WORDS[purpose].what">
    <template #action>
      <span class="flex flex-wrap items-center gap-x-4">
        <NuxtLink :to="`${route.path}/compare`" class="text-ink-soft hover:text-ink hover:underline"
          >Side by side</NuxtLink
        >
        <BaseButton kind="quiet" @click="isPreviewing = true">Previews</BaseButton>
        <template v-if="!isMultivariate">
          <BaseButton
            v-if="!hasRedirect && !isServed"
            kind="quiet"
            @click="make(asMultivariate(content, drawThingId), 'Made a multivariate test.')"
            >Make it multivariate</BaseButton
          >
          <BaseButton v-if="mayAdd" kind="quiet" @click="add">{{
            isServed ? 'Add a wording' : 'Add a variant'
          }}</BaseButton>
        </template>
        <BaseButton
          v-else-if="variants.length <= MOST_VARIANTS"
          kind="quiet"
          @click="make(asSplitTest(content), 'Made an A/B test of the combinations that are on.')"
          >Make it an A/B test</BaseButton
        >
      </span>
    </template>
    <template v-if="isMultivariate">
      <FactorList :factors="content.factors" />
      <CombinationGrid class="mt-5" :content="content" :place="store.place" :pictures="pictures" may-edit />
    </template>
    <ol v-else class="flex flex-col">
      <VariantRow
        v-for="(variant, position) in variants"
        :key="variant.id"
        :variant="variant"
        :position="position"
        :may-remove="variants.length > 2"
        :may-copy="mayAdd"
        :wordings="wordings"
      />
    </ol>
    <VariantPictures class="mt-6" :place="store.place" :variants="content.variants" :work="pictures" may-edit />
    <PreviewLinks v-if="isPreviewing" v-model:open="isPreviewing" :place="store.place" />
  </SheetSection>
</template>
