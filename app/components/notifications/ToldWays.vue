<script setup lang="ts">
import { OCCURRENCE_WORDS, WAYS, type OccurrenceKind, type Way } from '~~/core/notifications/occurrence'
import { USUAL, WAY_WORDS } from '~/notifications/wayWords'

/** How one is told of each kind. */
const props = defineProps<{
  ways: readonly { kind: OccurrenceKind; way: Way | null }[]
  /** What is so without a choice, in words. */
  usual: (kind: OccurrenceKind) => string
}>()
const emit = defineEmits<{ choose: [kind: OccurrenceKind, way: Way | null] }>()
const choicesOf = (kind: OccurrenceKind) => [
  { value: USUAL, label: props.usual(kind) },
  ...WAYS.map((value) => ({ value, label: WAY_WORDS[value] })),
]
const choose = (kind: OccurrenceKind, value: string) => emit('choose', kind, WAYS.find((way) => way === value) ?? null)
</script>

<template>
  <div class="grid max-w-2xl items-center gap-x-4 gap-y-2 sm:grid-cols-[1fr_auto]">
    <template v-for="{ kind, way } in ways" :key="kind">
      <span aria-hidden="true">{{ OCCURRENCE_WORDS[kind] }}</span>
      <ChoiceField
        :model-value="way ?? USUAL"
        :label="OCCURRENCE_WORDS[kind]"
        is-bare
        :choices="choicesOf(kind)"
        @update:model-value="choose(kind, $event)"
      />
    </template>
  </div>
</template>
