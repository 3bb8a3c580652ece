<script setup lang="ts">
defineProps<{ shortcuts: readonly Shortcut[] }>()
const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <PlainDialog v-model:open="open" title="Shortcuts">
    <dl class="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1.5">
      <dt class="font-mono text-sm">Ctrl K</dt>
      <dd>Find a place or an action</dd>
      <template v-for="shortcut in shortcuts" :key="shortcut.keys">
        <dt class="font-mono text-sm">{{ shortcut.keys }}</dt>
        <dd>{{ shortcut.label }}</dd>
      </template>
    </dl>
    <template #actions><BaseButton @click="open = false">Close</BaseButton></template>
  </PlainDialog>
</template>
