<script setup lang="ts">
withDefaults(defineProps<{ kind?: 'main' | 'plain' | 'quiet'; type?: 'button' | 'submit' }>(), {
  kind: 'plain',
  type: 'button',
})
</script>

<template>
  <button
    :type="type"
    class="min-h-9.5 rounded border px-3 py-1 font-medium whitespace-nowrap disabled:cursor-not-allowed disabled:opacity-50"
    :class="{
      'border-accent bg-accent text-on-accent': kind === 'main',
      'border-line-strong bg-raised hover:bg-neutral-soft': kind === 'plain',
      'border-transparent text-ink-soft hover:text-ink hover:underline': kind === 'quiet',
    }"
  >
    <slot />
  </button>
</template>
