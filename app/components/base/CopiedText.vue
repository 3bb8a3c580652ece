<script setup lang="ts">
/** A text to be copied, with a button. */
defineProps<{ label: string; text: string }>()
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <figure class="my-2">
    <figcaption class="mb-1 flex items-center gap-3 text-sm">
      {{ label }}
      <BaseButton class="ml-auto py-0" kind="quiet" :aria-label="`Copy: ${label}`" @click="copy(text)">{{
        copied ? 'Copied' : 'Copy'
      }}</BaseButton>
    </figcaption>
    <pre class="border border-line bg-raised p-3 font-mono text-xs break-all whitespace-pre-wrap">{{ text }}</pre>
  </figure>
</template>
