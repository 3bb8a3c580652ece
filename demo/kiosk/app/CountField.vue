<script setup lang="ts">
const MOST = 9
defineProps<{ label: string; least: number }>()
const count = defineModel<number>({ required: true })
</script>

<template>
  <div class="count" role="group" :aria-label="label">
    <span>{{ label }}</span>
    <button type="button" :aria-label="`Fewer ${label}`" :disabled="count <= least" @click="count--">−</button>
    <output>{{ count }}</output>
    <button type="button" :aria-label="`More ${label}`" :disabled="count >= MOST" @click="count++">+</button>
  </div>
</template>
