<script setup lang="ts">
import type { VariantPicture } from '~~/shared/pictures/replies'
import { DEVICES } from '~~/shared/pictures/variantPicture'

/** How one combination looks on a desktop, on the page with the most visitors; nothing where no picture was taken. */
const props = defineProps<{
  place: { site: number; experiment: number }
  work: ReturnType<typeof useVariantPictures>
  variant: string
  name: string
}>()
const { width } = DEVICES.at(-1)!
const picture = computed(() => {
  const { pages: [page] = [], pictures = [] } = props.work.pictures.value ?? {}
  return pictures.find((each) => each.variant === props.variant && each.width === width && each.path === page) ?? null
})
const address = computed(
  () => `/api/sites/${props.place.site}/experiments/${props.place.experiment}/pictures/${picture.value?.id}`,
)
const opened = ref<VariantPicture | null>(null)
</script>

<template>
  <PictureThumbnail
    v-if="picture"
    class="mt-2"
    :picture="picture"
    :address="address"
    :title="`${name} in the grid`"
    @open="opened = $event"
  />
  <PictureDialog v-if="opened" :picture="opened" :address="address" :variant="name" @close="opened = null" />
</template>
