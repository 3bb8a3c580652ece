<script setup lang="ts">
import { ArrowUturnLeftIcon } from '@heroicons/vue/20/solid'
import { hexColor, typedLength, type LookControl } from '~/edits/lookControls'

/** One property of the look. Steps up and down with the arrow keys where it is a length. */
const props = defineProps<{ control: LookControl; group: string; original: string; changed: string | null }>()
const emit = defineEmits<{ preview: [value: string]; commit: [value: string] }>()
const id = useId()
const value = ref('')
watch(
  () => [props.changed, props.original],
  () => (value.value = props.changed ?? props.original),
  { immediate: true },
)
const choices = computed(() => {
  if (props.control.type !== 'choice') return []
  const { choices: listed } = props.control
  return listed.includes(value.value) ? listed : [value.value, ...listed]
})
const typed = () => (props.control.type === 'length' ? typedLength(value.value) : value.value.trim())
/** The browser knows what a property may be. */
const problem = computed(() => {
  const text = typed()
  return text && !CSS.supports(props.control.property, text)
    ? `“${text}” is no value of ${props.control.property}.`
    : ''
})
function preview(): void {
  if (!problem.value) emit('preview', typed())
}
function commit(): void {
  const next = typed()
  if (problem.value) return
  if (next !== (props.changed ?? props.original)) emit('commit', next === props.original ? '' : next)
}
function step(event: KeyboardEvent, by: number): void {
  const [, number, unit] = /^(-?[\d.]+)([a-z%]*)$/.exec(value.value.trim()) ?? []
  if (number === undefined || props.control.type === 'choice') return
  event.preventDefault()
  const size = props.control.type === 'number' ? 0.1 : event.shiftKey ? 10 : 1
  value.value = `${Number((Number(number) + by * size).toFixed(3))}${unit}`
  preview()
}
</script>

<template>
  <div class="flex min-w-0 flex-col gap-0.5">
    <span class="flex items-center gap-1 text-sm">
      <label :for="id" class="truncate" :class="{ 'font-semibold text-accent': changed !== null }"
        ><span class="sr-only">{{ group }}: </span>{{ control.label }}</label
      >
      <button
        v-if="changed !== null"
        type="button"
        class="ml-auto text-ink-soft hover:text-ink"
        :aria-label="`${control.label} as on the page`"
        @click="emit('commit', '')"
      >
        <ArrowUturnLeftIcon class="size-4" aria-hidden="true" />
      </button>
    </span>
    <select v-if="control.type === 'choice'" :id="id" v-model="value" class="field py-1 text-sm" @change="commit">
      <option v-for="choice in choices" :key="choice">{{ choice }}</option>
    </select>
    <span v-else class="flex items-center gap-1">
      <input
        v-if="control.type === 'color'"
        type="color"
        class="size-8 shrink-0 rounded border border-line-strong bg-raised"
        :aria-label="`Pick ${group.toLowerCase()}: ${control.label.toLowerCase()}`"
        :value="hexColor(value) ?? '#ffffff'"
        @input="((value = ($event.target as HTMLInputElement).value), emit('preview', value))"
        @change="commit"
      />
      <input
        :id="id"
        v-model="value"
        class="field px-2 py-1 text-sm"
        spellcheck="false"
        :aria-invalid="problem !== ''"
        :aria-describedby="problem ? `${id}-problem` : undefined"
        @input="preview"
        @change="commit"
        @keydown.up="step($event, 1)"
        @keydown.down="step($event, -1)"
        @blur="commit"
      />
    </span>
    <span v-if="problem" :id="`${id}-problem`" class="text-sm text-rust" role="alert">{{ problem }}</span>
  </div>
</template>
