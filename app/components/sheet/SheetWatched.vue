<script setup lang="ts">
import type { SheetPlan } from '~~/core/sheet/content'
import { SELF_PAUSE_CHOICES } from '~/sheets/ruleWords'

/** What a personalization is read by, and what it pauses itself for. */
const { draft: written, commit, state } = useSheetThing<SheetPlan>({ part: 'plan' }, [['smallestLift'], ['pausesFor']])
const pausesFor = computed({
  get: () => written.value.pausesFor ?? 'target',
  set: (cause) => (written.value.pausesFor = cause),
})
</script>

<template>
  <SheetSection name="decided" title="Watched" note="Its effect is read every day, on all metrics of the site.">
    <div class="grid max-w-2xl gap-x-4 gap-y-4 sm:grid-cols-3">
      <PercentField
        v-model="written.smallestLift"
        label="Smallest worthwhile lift"
        :state="state('smallestLift')"
        @commit="commit"
      />
      <ChoiceField
        v-model="pausesFor"
        label="Pauses itself for"
        hint="A person resumes it."
        :choices="SELF_PAUSE_CHOICES"
        :state="state('pausesFor')"
        @commit="commit"
      />
    </div>
  </SheetSection>
</template>
