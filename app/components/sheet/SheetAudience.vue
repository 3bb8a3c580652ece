<script setup lang="ts">
import { conditionInWords } from '~~/core/targeting/conditionWords'
import type { Group } from '~~/core/targeting/condition'
import type { SheetContent } from '~~/core/sheet/content'

/** Which visitors take part. */
const store = useSheetStore()
const { draft, commit, state } = useSheetThing<SheetContent>({ part: 'sheet' }, [['audience']])
const audience = computed(() => (draft.value.audience as Group | null | undefined) ?? null)
const { name: names } = useConditionNames(store.place.site, audience)
const inWords = (value: unknown) => (value ? conditionInWords(value as Group, names.value) : 'everybody')
</script>

<template>
  <AudienceField
    :site-id="store.place.site"
    :audience="audience"
    :errors="state('audience').errors"
    @change="draft.audience = $event"
    @commit="commit"
  >
    <FieldConflict
      v-if="state('audience').conflict"
      :conflict="state('audience').conflict!"
      label="Audience"
      :show="inWords"
    />
  </AudienceField>
</template>
