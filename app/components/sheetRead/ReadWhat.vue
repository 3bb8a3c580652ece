<script setup lang="ts">
import { askedAudience } from '~~/core/sheet/wordings'
import { conditionInWords } from '~~/core/targeting/conditionWords'
import { PURPOSE_WORDS } from '~/sheets/purposeWords'

/** Each variant with what it changes: the old text, and the new one below it. */
defineProps<{ mayEdit: boolean }>()
const route = useRoute('sites-site-experiments-experiment')
const store = useSheetStore()
const { content } = useSheetChanges()
const { name: names } = useConditionNames(store.place.site, () => store.sheet && askedAudience(store.sheet))
const isPreviewing = ref(false)
const pictures = useVariantPictures(
  () => store.place,
  () => store.sheet?.version,
)
</script>

<template>
  <SheetSection name="what" title="What" :note="PURPOSE_WORDS[store.sheet?.purpose ?? 'test'].what">
    <template #action>
      <span class="flex items-center gap-4">
        <NuxtLink :to="`${route.path}/compare`" class="text-ink-soft hover:text-ink hover:underline"
          >Side by side</NuxtLink
        >
        <BaseButton v-if="mayEdit" kind="quiet" @click="isPreviewing = true">Previews</BaseButton>
      </span>
    </template>
    <template v-if="content.factors.length > 0">
      <ReadFactors :factors="content.factors" />
      <CombinationGrid class="mt-5" :content="content" :place="store.place" :pictures="pictures" />
    </template>
    <ol v-else class="flex flex-col">
      <li
        v-for="(variant, position) in content.variants"
        :key="variant.id"
        class="grid gap-x-4 gap-y-1 border-b border-line py-3 first:pt-0 last:border-b-0 sm:grid-cols-[14rem_1fr]"
      >
        <p class="flex items-baseline gap-2 font-medium"><VariantMark :position="position" /> {{ variant.name }}</p>
        <div class="min-w-0">
          <p v-if="variant.audience" class="mb-1 text-sm">
            For visitors: {{ conditionInWords(variant.audience, names) }}.
          </p>
          <p v-if="position === 0" class="text-ink-soft">The page as it is.</p>
          <p v-else-if="variant.edits.length === 0" class="text-ink-soft">Changes nothing.</p>
          <ul v-else class="flex flex-col gap-3">
            <li v-for="edit in variant.edits" :key="edit.id">
              <EditSummary :edit="edit" />
            </li>
          </ul>
        </div>
      </li>
    </ol>
    <VariantPictures
      class="mt-6"
      :place="store.place"
      :variants="content.variants"
      :work="pictures"
      :may-edit="mayEdit"
    />
    <PreviewLinks v-if="isPreviewing" v-model:open="isPreviewing" :place="store.place" />
  </SheetSection>
</template>
