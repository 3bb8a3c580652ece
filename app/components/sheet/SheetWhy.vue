<script setup lang="ts">
import type { SheetContent } from '~~/core/sheet/content'

const { draft, commit, state } = useSheetThing<SheetContent>({ part: 'sheet' }, [['hypothesis']])
</script>

<template>
  <SheetSection name="why" title="Why" note="The hypothesis.">
    <LabeledField
      v-slot="{ id, invalid, describedBy }"
      label="Because we saw …, we expect that … will …"
      :state="state('hypothesis')"
    >
      <textarea
        :id="id"
        v-model="draft.hypothesis"
        class="field max-w-[72ch]"
        rows="3"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
        placeholder="Because many visitors leave without searching, we expect that a headline with the islands’ names will bring more bookings."
        @change="commit"
      />
    </LabeledField>
  </SheetSection>
</template>
