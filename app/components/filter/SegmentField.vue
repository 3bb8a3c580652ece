<script setup lang="ts">
import type { EvidenceChoices } from '~~/shared/evidence/replies'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { XMarkIcon } from '@heroicons/vue/20/solid'
import { DIMENSIONS } from '~~/core/evidence/visits'
import { OTHER_PARTS, readSegment, segmentText, type PartName } from '~~/shared/evidence/filter'

/** Whom one looks at: everybody, or those of whom all parts hold. */
const props = defineProps<{ label: string; choices: EvidenceChoices | null }>()
/** As it stands in the address; empty for everybody. */
const segment = defineModel<string>({ required: true })
const parts = computed(() => (segment.value ? (readSegment(segment.value) ?? []) : []))
const names = computed(() =>
  [...DIMENSIONS, ...OTHER_PARTS].filter((name) => props.choices && valuesOf(name, props.choices).length > 0),
)
const draft = reactive<{ name: PartName; value: string }>({ name: 'device', value: '' })
const values = computed(() => (props.choices ? valuesOf(draft.name, props.choices) : []))
watch(values, (list) => (draft.value = list[0]?.value ?? ''), { immediate: true })

function add(close: () => void): void {
  if (!draft.value) return
  const others = parts.value.filter(({ name, value }) => name !== draft.name || value !== draft.value)
  segment.value = segmentText([...others, { ...draft }])
  close()
}
const remove = (index: number) => (segment.value = segmentText(parts.value.filter((_, at) => at !== index)))
</script>

<template>
  <div class="flex min-w-0 flex-col gap-1">
    <span :id="`segment-${label}`" class="text-sm font-medium">{{ label }}</span>
    <div
      class="flex min-h-9.5 flex-wrap items-center gap-1.5"
      role="group"
      :aria-labelledby="`segment-${label}`"
      data-testid="segment"
    >
      <span v-if="parts.length === 0" class="text-ink-soft">everybody</span>
      <span
        v-for="(part, index) in parts"
        :key="part.name + part.value"
        class="flex items-center gap-1 rounded border border-line-strong py-0.5 pr-1 pl-2 text-sm"
      >
        {{ partInWords(part, choices) }}
        <button
          type="button"
          class="rounded p-0.5 text-ink-soft hover:text-ink"
          :aria-label="`Leave out: ${partInWords(part, choices)}`"
          @click="remove(index)"
        >
          <XMarkIcon class="size-4" aria-hidden="true" />
        </button>
      </span>
      <Popover v-slot="{ close }" class="relative">
        <PopoverButton class="rounded px-2 py-1 text-sm font-medium text-accent hover:underline" :disabled="!choices">
          {{ parts.length === 0 ? 'Choose …' : 'And …' }}
        </PopoverButton>
        <PopoverPanel
          class="absolute left-0 z-30 mt-1 flex w-72 flex-col gap-3 rounded border border-line-strong bg-raised p-3"
        >
          <LabeledField v-slot="{ id }" label="Where">
            <select :id="id" v-model="draft.name" class="field">
              <option v-for="name in names" :key="name" :value="name">{{ segmentName(name) }}</option>
            </select>
          </LabeledField>
          <LabeledField v-slot="{ id }" label="is">
            <select :id="id" v-model="draft.value" class="field">
              <option v-for="each in values" :key="each.value" :value="each.value">{{ each.label }}</option>
            </select>
          </LabeledField>
          <div><BaseButton @click="add(close)">Add</BaseButton></div>
        </PopoverPanel>
      </Popover>
    </div>
  </div>
</template>
