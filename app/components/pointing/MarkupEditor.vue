<script setup lang="ts">
import { LONGEST_MARKUP, readMarkup } from '~~/core/edits/markup'

/** HTML as it is typed or pasted, with what it would bring to the page before it is kept. */
const props = defineProps<{ label: string; action: string; original: string; placeholder?: string }>()
const emit = defineEmits<{ preview: [isShown: boolean]; keep: [] }>()
const html = defineModel<string>({ required: true })
const content = computed(() => readMarkup(html.value))
const problem = computed(() =>
  html.value.length > LONGEST_MARKUP
    ? `The HTML is longer than ${formatCount(LONGEST_MARKUP)} characters.`
    : (content.value.problems[0] ?? ''),
)
const isTyped = computed(() => html.value !== props.original && html.value.trim() !== '')
watch(html, () => emit('preview', isTyped.value && !problem.value))
onBeforeUnmount(() => emit('preview', false))
useLeaveGuard(() => isTyped.value)
const brings = computed(() => {
  const { elements, links, forms, loads } = content.value
  const count = Object.values(elements).reduce((sum, each) => sum + each, 0)
  return [
    count > 0
      ? `${formatCount(count)} ${count === 1 ? 'element' : 'elements'}: ${Object.keys(elements).join(', ')}`
      : '',
    ...links.map((each) => `a link to ${each}`),
    ...forms.map((each) => `a form that sends to ${each || 'this page'}`),
    ...loads.map((each) => `loads ${each}`),
    elements.style ? 'a stylesheet, which may change the whole page' : '',
    elements.iframe ? 'a frame, which shows another page' : '',
  ].filter(Boolean)
})
</script>

<template>
  <div class="flex flex-col gap-2">
    <p class="text-sm font-medium">{{ label }}</p>
    <CodeEditor v-model="html" :label="label" language="html" :placeholder="placeholder" />
    <p v-if="problem" class="text-sm text-rust" role="alert">{{ problem }}</p>
    <details v-if="isTyped && brings.length > 0" class="text-sm" open>
      <summary>What it brings to the page</summary>
      <ul class="list-disc pl-5">
        <li v-for="each in brings" :key="each" class="break-words">{{ each }}</li>
      </ul>
    </details>
    <div class="flex gap-2">
      <BaseButton :disabled="!isTyped || problem !== ''" @click="emit('keep')">{{ action }}</BaseButton>
      <BaseButton v-if="html !== original" kind="quiet" @click="html = original">Reset</BaseButton>
    </div>
  </div>
</template>
