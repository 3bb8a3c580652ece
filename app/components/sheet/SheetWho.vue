<script setup lang="ts">
import type { PageMatch } from '~~/core/targeting/pageRule'

const props = defineProps<{ mayEdit: boolean }>()
const store = useSheetStore()
const pages = useSectionDraft(['pageRules'], (sheet) => ({
  pageRules: sheet.pageRules.length > 0 ? sheet.pageRules : [{ match: 'exact' as const, value: '' }],
}))
const traffic = useSectionDraft(['share'], (sheet) => ({ share: sheet.share }))
const split = useSectionDraft(['variants'], (sheet) => ({ variants: sheet.variants }))
const isDraft = computed(() => store.sheet?.state === 'draft')
const isFrozen = computed(() => !props.mayEdit || !isDraft.value)
const shareFraction = computed({
  get: () => (traffic.draft.value.share ?? 0) / 10_000,
  set: (value) => (traffic.draft.value.share = Math.round(value * 10_000)),
})
const totalWeight = computed(() =>
  (split.draft.value.variants ?? []).reduce((sum, variant) => sum + Number(variant.weight), 0),
)
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
]
</script>

<template>
  <SheetSection name="who" title="Who" note="On which page, and which share of its visitors.">
    <div class="flex flex-col gap-5">
      <div class="flex flex-col gap-2">
        <div
          v-for="(rule, index) in pages.draft.value.pageRules"
          :key="index"
          class="grid max-w-xl grid-cols-[10rem_1fr] items-start gap-3"
        >
          <ChoiceField
            v-model="rule.match"
            label="Address"
            :choices="MATCHES"
            :disabled="isFrozen"
            @commit="rule.value && pages.commit()"
          />
          <TextField
            v-model="rule.value"
            label="Path"
            placeholder="/crossings/torrin"
            :disabled="isFrozen"
            :error="pages.errors.value[`pageRules[${index}].value`]"
            @commit="pages.commit"
          />
        </div>
        <div v-if="!isFrozen" class="flex gap-3">
          <BaseButton kind="quiet" @click="pages.draft.value.pageRules?.push({ match: 'exact', value: '' })"
            >Add another address</BaseButton
          >
          <BaseButton
            v-if="(pages.draft.value.pageRules?.length ?? 0) > 1"
            kind="quiet"
            @click="pages.commitUndoable('Removed the last address.', (each) => each.pageRules?.pop())"
            >Remove the last</BaseButton
          >
        </div>
      </div>
      <div class="flex flex-wrap gap-x-8 gap-y-4">
        <PercentField
          v-model="shareFraction"
          class="w-40"
          label="Traffic share"
          :hint="isDraft ? undefined : 'Can only be raised now.'"
          :disabled="!mayEdit || store.sheet?.state === 'ended'"
          :error="traffic.errors.value.share"
          @commit="traffic.commit"
        />
        <fieldset>
          <legend class="mb-1 text-sm font-medium">Split</legend>
          <div class="flex flex-wrap gap-4">
            <div
              v-for="(variant, position) in split.draft.value.variants"
              :key="position"
              class="flex items-center gap-2"
            >
              <VariantMark :position="position" />
              <label class="sr-only" :for="`weight-${position}`">Weight of {{ variant.name }}</label>
              <input
                :id="`weight-${position}`"
                v-model.number="variant.weight"
                type="number"
                min="0"
                class="field w-20 text-right"
                :disabled="isFrozen"
                :aria-invalid="split.errors.value[`variants[${position}].weight`] ? true : undefined"
                @change="split.commit"
              />
              <span class="w-16 text-ink-soft">{{
                formatShare(totalWeight > 0 ? variant.weight / totalWeight : 0, 1)
              }}</span>
            </div>
          </div>
          <p v-for="(message, field) in split.errors.value" :key="field" class="text-sm text-rust" role="alert">
            {{ message }}
          </p>
        </fieldset>
      </div>
    </div>
  </SheetSection>
</template>
