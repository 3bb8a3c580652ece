<script setup lang="ts">
import type { VariantPicture } from '~~/shared/pictures/replies'
import type { SheetVariant } from '~~/core/sheet/content'
import { DEVICES } from '~~/shared/pictures/variantPicture'

/** How every variant looks on a phone, a tablet and a desktop, and what looks wrong there. */
const props = defineProps<{
  place: { site: number; experiment: number }
  variants: readonly SheetVariant[]
  work: ReturnType<typeof useVariantPictures>
  mayEdit?: boolean
}>()
const { pictures, problem, isUnread, isWorking, read, take, cancel } = props.work
const page = ref<string | null>(null)
const pages = computed(() => pictures.value?.pages ?? [])
const shownPage = computed(() => (pages.value.includes(page.value ?? '') ? page.value! : (pages.value[0] ?? null)))
const opened = ref<VariantPicture | null>(null)
const isAny = computed(() => (pictures.value?.pictures.length ?? 0) > 0)
const pictureOf = (variant: string, width: number) =>
  pictures.value?.pictures.find(
    (each) => each.variant === variant && each.width === width && each.path === shownPage.value,
  ) ?? null
const addressOf = ({ id }: VariantPicture) =>
  `/api/sites/${props.place.site}/experiments/${props.place.experiment}/pictures/${id}`
const nameOf = (variant: string) => props.variants.find(({ id }) => id === variant)?.name ?? ''
</script>

<template>
  <section v-if="mayEdit || isAny" aria-labelledby="pictures">
    <div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
      <h3 id="pictures">Pictures</h3>
      <p class="text-sm text-ink-soft">As a browser of that device has it, with what looks wrong.</p>
      <PictureRequest v-if="mayEdit && pictures" class="ml-auto" :is-any="isAny" :is-busy="isWorking" @take="take" />
    </div>
    <p v-if="problem" class="mb-3 text-rust" role="alert">{{ problem }}</p>
    <ProblemNote v-if="isUnread" text="The pictures cannot be loaded at the moment." @retry="read" />
    <p v-if="pictures && !pictures.canTake" class="text-ink-soft">
      Pictures need Chromium where Vetch runs. On Debian: <code>apt-get install chromium-headless-shell</code>
    </p>
    <JobProgress
      v-if="isWorking"
      class="mb-3"
      title="Taking pictures"
      :progress="pictures!.job!.progress"
      @cancel="cancel"
    />
    <p v-else-if="pictures?.job?.state === 'failed'" class="mb-3 text-rust" role="alert">{{ pictures.job.problem }}</p>
    <ButtonRow
      v-if="pages.length > 1 && isAny"
      :model-value="shownPage!"
      class="mb-3"
      label="Page"
      :choices="pages.map((path) => ({ value: path, label: path }))"
      @update:model-value="page = $event"
    />
    <div v-if="isAny" class="relative overflow-x-auto" tabindex="0" role="group" aria-label="Pictures by device">
      <table class="border-collapse">
        <thead>
          <tr class="border-b border-line text-left text-sm text-ink-soft [&>th]:px-2 [&>th]:pb-1 [&>th]:font-medium">
            <th scope="col">Variant</th>
            <th v-for="device in DEVICES" :key="device.width" scope="col">{{ device.name }}, {{ device.width }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(variant, position) in variants" :key="variant.id" class="border-b border-line align-top">
            <th scope="row" class="max-w-40 px-2 py-2 text-left font-normal">
              <span class="flex items-baseline gap-2"><VariantMark :position="position" />{{ variant.name }}</span>
            </th>
            <td v-for="device in DEVICES" :key="device.width" class="px-2 py-2">
              <PictureThumbnail
                v-if="pictureOf(variant.id, device.width)"
                :picture="pictureOf(variant.id, device.width)!"
                :address="addressOf(pictureOf(variant.id, device.width)!)"
                :title="`${variant.name}, ${device.name.toLowerCase()}`"
                @open="opened = $event"
              />
              <span v-else class="text-sm text-ink-soft">Not yet</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <PictureDialog
      v-if="opened"
      :picture="opened"
      :address="addressOf(opened)"
      :variant="nameOf(opened.variant)"
      @close="opened = null"
    />
  </section>
</template>
