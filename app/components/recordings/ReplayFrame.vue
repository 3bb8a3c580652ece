<script setup lang="ts">
/** Where a recording is played: as large as there is room for, with the window's own proportions. */
const props = defineProps<{ size: { width: number; height: number } }>()
const TALLEST = 560
const container = useTemplateRef<HTMLElement>('container')
const { width: room } = useElementSize(container)
const scale = computed(() =>
  props.size.width === 0 ? 1 : Math.min(1, room.value / props.size.width, TALLEST / props.size.height),
)
const stage = useTemplateRef<HTMLElement>('stage')
defineExpose({ stage })
</script>

<template>
  <div ref="container" class="min-h-40 overflow-hidden rounded border border-line-strong bg-neutral-soft">
    <div
      class="mx-auto"
      :style="{ width: `${size.width * scale}px`, height: `${size.height * scale}px` }"
      data-testid="replay"
    >
      <!-- A page without a background of its own is white, as in a browser. -->
      <div ref="stage" class="origin-top-left [&_iframe]:bg-white" :style="{ transform: `scale(${scale})` }" />
    </div>
  </div>
</template>
