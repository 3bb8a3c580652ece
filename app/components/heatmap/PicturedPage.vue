<script setup lang="ts">
import type { PagePicture } from '~~/shared/pictures/pageOperations'
import { withoutClasses } from '~~/core/measurement/elementPath'
import type { Box } from '~~/shared/edits/pointing'

/** A page as it was on some day, at its width; tells where elements stood on it. */
const props = defineProps<{
  siteId: number
  picture: PagePicture
  /** Paths of elements as clicks keep them. */
  paths: readonly string[]
}>()
const emit = defineEmits<{ located: [boxes: (Box | null)[], page: { width: number; height: number }] }>()
const api = useApi()
const {
  value: places,
  problem,
  reload,
} = useLoaded(() => api('readPagePlaces', { site: props.siteId, picture: props.picture.id }))
watch(() => props.picture.id, reload)
const byPath = computed(
  () =>
    new Map(
      (places.value ?? []).map(([path, x, y, width, height]): [string, Box] => {
        return [withoutClasses(path), { x, y, width, height }]
      }),
    ),
)
watch(
  [byPath, () => props.paths],
  () => {
    if (!places.value) return
    const boxes = props.paths.map((path) => byPath.value.get(withoutClasses(path)) ?? null)
    emit('located', boxes, { width: props.picture.width, height: props.picture.height })
  },
  { immediate: true },
)
const container = useTemplateRef<HTMLElement>('container')
const { width: room } = useElementSize(container)
const scale = computed(() => Math.min(1, room.value / props.picture.width || 1))
</script>

<template>
  <div ref="container" class="relative min-w-0" :aria-busy="!places && !problem">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <div
      class="relative origin-top-left overflow-hidden border border-line-strong"
      :style="{
        width: `${picture.width}px`,
        height: `${picture.height}px`,
        transform: `scale(${scale})`,
        marginBottom: `${-picture.height * (1 - scale)}px`,
      }"
    >
      <img
        :src="`/api/sites/${siteId}/page-pictures/${picture.id}`"
        :alt="`The page ${picture.path} as it was`"
        class="absolute inset-0 size-full"
      />
      <div class="absolute inset-0"><slot v-if="places" :height="picture.height" /></div>
    </div>
  </div>
</template>
