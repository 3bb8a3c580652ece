<script setup lang="ts">
import type { VariantPicture } from '~~/shared/pictures/replies'
import { DEVICES } from '~~/shared/pictures/variantPicture'

/** A picture as a whole, with what looks wrong marked in it, and what the page was told of the device. */
const props = defineProps<{ picture: VariantPicture; address: string; variant: string }>()
const emit = defineEmits<{ close: [] }>()
const device = computed(() => DEVICES.find(({ width }) => width === props.picture.width)!)
const chosen = ref<number | null>(null)
const share = (part: number, whole: number) => `${((part / whole) * 100).toFixed(3)}%`
const boxes = computed(() =>
  props.picture.problems.map(({ box }) => ({
    left: share(box.x, props.picture.width),
    top: share(box.y, props.picture.height),
    width: share(box.width, props.picture.width),
    height: share(box.height, props.picture.height),
  })),
)
const marks = useTemplateRef<HTMLElement[]>('marks')
function show(place: number): void {
  chosen.value = place
  marks.value?.[place]?.scrollIntoView({ block: 'center', behavior: 'smooth' })
}
</script>

<template>
  <PlainDialog
    :open="true"
    :title="`${variant}, ${device.name.toLowerCase()}, ${picture.path}`"
    is-wide
    @update:open="emit('close')"
  >
    <div class="grid gap-5 md:grid-cols-[minmax(0,1fr)_18rem]">
      <div class="max-h-[70dvh] overflow-y-auto border border-line" tabindex="0" role="group" aria-label="The picture">
        <div class="relative mx-auto" :style="{ maxWidth: `${picture.width}px` }">
          <img :src="address" :alt="`The page with ${variant}`" class="block w-full" />
          <span
            v-for="(box, place) in boxes"
            :key="place"
            ref="marks"
            class="absolute outline-3 outline-offset-2"
            :class="chosen === place ? 'bg-accent/20 outline-accent' : 'outline-rust'"
            :style="box"
            ><span class="absolute -top-6 left-0 rounded bg-rust px-1.5 text-sm font-semibold text-ground">{{
              place + 1
            }}</span></span
          >
        </div>
      </div>
      <div class="flex flex-col gap-4">
        <section>
          <h3 class="mb-1">What looks wrong</h3>
          <p v-if="picture.problems.length === 0" class="text-ink-soft">Nothing differs from the control.</p>
          <ol class="flex flex-col gap-2">
            <li v-for="(found, place) in picture.problems" :key="place">
              <button type="button" class="text-left hover:underline" @click="show(place)">
                <span class="font-semibold">{{ place + 1 }}.</span> {{ found.text }}
              </button>
            </li>
          </ol>
        </section>
        <section class="text-sm text-ink-soft">
          <h3 class="mb-1 text-ink">What the page was told</h3>
          <p>{{ picture.width }} × {{ device.height }} pixels, {{ device.isTouch ? 'touch' : 'no touch' }}</p>
          <p>Language {{ picture.language }}</p>
          <p class="break-words">{{ device.userAgent }}</p>
        </section>
      </div>
    </div>
    <template #actions><BaseButton @click="emit('close')">Close</BaseButton></template>
  </PlainDialog>
</template>
