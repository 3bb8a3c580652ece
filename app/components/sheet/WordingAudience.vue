<script setup lang="ts">
import type { SheetVariant } from '~~/core/sheet/content'
import type { Group } from '~~/core/targeting/condition'
import { conditionInWords } from '~~/core/targeting/conditionWords'

/** Whom one wording of a personalization is for. */
const props = defineProps<{ variant: SheetVariant; isFirst: boolean }>()
const store = useSheetStore()
const { draft, commit, state } = useSheetThing<SheetVariant>(
  () => ({ part: 'variants', id: props.variant.id }),
  [['audience']],
)
const audience = computed(() => (draft.value.audience as Group | null | undefined) ?? null)
const { name: names } = useConditionNames(store.place.site, audience)
const inWords = (value: unknown) => (value ? conditionInWords(value as Group, names.value) : 'everybody')
</script>

<template>
  <AudienceField
    :site-id="store.place.site"
    :audience="audience"
    :errors="state('audience').errors"
    title="For whom"
    :everybody="isFirst ? 'Everybody.' : 'Everybody whom no wording above fits.'"
    @change="draft.audience = $event"
    @commit="commit"
  >
    <FieldConflict
      v-if="state('audience').conflict"
      :conflict="state('audience').conflict!"
      :label="`For whom ${variant.name} is`"
      :show="inWords"
    />
  </AudienceField>
</template>
