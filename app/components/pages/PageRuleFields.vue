<script setup lang="ts">
import { isPlainRule, type AddressPart, type PageMatch, type PageRule } from '~~/core/targeting/pageRule'

/** One rule on addresses. What most rules need stands open; the rest opens with a button, and where it is used. */
const props = defineProps<{
  rule: PageRule
  state?: (field: keyof PageRule) => FieldState
  error?: string
  /** It stands alone: there is nothing that it could take pages away from. */
  isSingle?: boolean
}>()
const emit = defineEmits<{ change: [changes: Partial<PageRule>]; commit: [] }>()
const part = computed(() => props.rule.part ?? 'page')
const isOpen = ref(!isPlainRule(props.rule))
watch(
  () => isPlainRule(props.rule),
  (isPlain) => (isOpen.value ||= !isPlain),
)

const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'exact', label: 'is' },
  { value: 'begins', label: 'begins with' },
  { value: 'contains', label: 'contains' },
  { value: 'ends', label: 'ends with' },
  { value: 'wildcards', label: 'fits a pattern with *' },
  { value: 'regex', label: 'fits a regular expression' },
]
const matches = computed(() =>
  ['parameter', 'query', 'fragment'].includes(part.value)
    ? [...MATCHES, { value: 'present' as const, label: 'is there' }]
    : MATCHES,
)
const PARTS: { value: AddressPart; label: string; field: string; example: string }[] = [
  { value: 'page', label: 'path and query', field: 'Path', example: '/crossings/torrin' },
  { value: 'path', label: 'path alone', field: 'Path', example: '/crossings/torrin' },
  { value: 'address', label: 'whole address', field: 'Whole address', example: 'https://shop.example/book' },
  { value: 'host', label: 'host', field: 'Host', example: 'shop.example' },
  { value: 'query', label: 'query', field: 'Query', example: 'from=mail' },
  { value: 'parameter', label: 'one parameter', field: 'Value', example: 'mail' },
  { value: 'fragment', label: 'fragment', field: 'Fragment', example: 'fares' },
]
const own = computed(() => PARTS.find(({ value }) => value === part.value)!)
function set(changes: Partial<PageRule>): void {
  emit('change', changes)
  emit('commit')
}
function setPart(next: AddressPart): void {
  const hasPresence = ['parameter', 'query', 'fragment'].includes(next)
  set({
    part: next === 'page' ? null : next,
    parameter: next === 'parameter' ? (props.rule.parameter ?? '') : null,
    ...(props.rule.match === 'present' && !hasPresence ? { match: 'exact' as const } : {}),
  })
}
</script>

<template>
  <div class="flex flex-col gap-2">
    <div class="grid grid-cols-[9rem_1fr_auto] items-start gap-x-3 gap-y-1 sm:grid-cols-[12rem_1fr_auto]">
      <ChoiceField
        :model-value="rule.match"
        label="Address"
        :choices="matches"
        :state="state?.('match')"
        @update:model-value="set({ match: $event })"
      />
      <TextField
        v-if="rule.match !== 'present'"
        :model-value="rule.value"
        :label="own.field"
        :placeholder="own.example"
        :state="state?.('value')"
        :error="error"
        @update:model-value="emit('change', { value: String($event ?? '') })"
        @commit="emit('commit')"
      />
      <span v-else />
      <span class="mt-6 flex">
        <BaseButton kind="quiet" :aria-expanded="isOpen" @click="isOpen = !isOpen">{{
          isOpen ? 'Less' : 'More'
        }}</BaseButton>
        <slot />
      </span>
    </div>
    <div v-if="isOpen" class="flex flex-wrap items-end gap-x-4 gap-y-2 border-l-2 border-line pl-3">
      <ChoiceField
        v-if="!isSingle"
        class="w-44"
        :model-value="rule.isExcluded ? 'out' : 'in'"
        label="The rule"
        :choices="[
          { value: 'in', label: 'includes pages' },
          { value: 'out', label: 'excludes pages' },
        ]"
        @update:model-value="set({ isExcluded: $event === 'out' })"
      />
      <ChoiceField
        class="w-40"
        :model-value="part"
        label="Looks at"
        :choices="PARTS"
        @update:model-value="setPart($event)"
      />
      <TextField
        v-if="part === 'parameter'"
        class="w-32"
        :model-value="rule.parameter ?? ''"
        label="Parameter"
        placeholder="from"
        :state="state?.('parameter')"
        @update:model-value="emit('change', { parameter: String($event ?? '') })"
        @commit="emit('commit')"
      />
      <label v-if="rule.match !== 'present'" class="flex items-center gap-2 py-1.5">
        <input
          type="checkbox"
          class="accent-accent"
          :checked="!!rule.ignoresCase"
          @change="set({ ignoresCase: !rule.ignoresCase })"
        />
        Ignore case
      </label>
      <label v-if="rule.match === 'exact'" class="flex items-center gap-2 py-1.5">
        <input
          type="checkbox"
          class="accent-accent"
          :checked="!!rule.isStrictSlash"
          @change="set({ isStrictSlash: !rule.isStrictSlash })"
        />
        A slash at the end counts
      </label>
    </div>
  </div>
</template>
