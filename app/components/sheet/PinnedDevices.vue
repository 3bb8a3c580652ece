<script setup lang="ts">
import type { PinnedDevice } from '~~/shared/delivery/deviceOperations'

/** Devices of the team that show a variant as long as somebody wants them to, while drafts change. */
const props = defineProps<{
  place: { site: number; experiment: number }
  /** Of this experiment, by their ids. */
  variants: readonly { value: string; label: string }[]
}>()
const api = useApi()
const notices = useNoticesStore()
const { copy } = useClipboard({ legacy: true })
const { value: devices, problem, reload } = useLoaded(() => api('listDevices', { site: props.place.site }))
const name = ref('')
const { errors, isSaving, save } = useSaving()
const AS_IT_IS = ''
const ELSEWHERE = 'elsewhere'

const pin = () =>
  save(async () => {
    const made = await api('pinDevice', { site: props.place.site, body: { name: name.value } })
    name.value = ''
    await reload()
    await copyLink(made)
  })
async function copyLink({ link, name: of }: PinnedDevice): Promise<void> {
  await copy(link)
  notices.show(`Copied the link. Open it once on ${of}.`)
}
const shown = ({ experimentId, variant }: PinnedDevice) =>
  experimentId === null ? AS_IT_IS : experimentId === props.place.experiment ? (variant ?? AS_IT_IS) : ELSEWHERE
const choicesOf = ({ experimentId, experiment }: PinnedDevice) => [
  { value: AS_IT_IS, label: 'The page as it is' },
  ...props.variants,
  ...(experimentId !== null && experimentId !== props.place.experiment
    ? [{ value: ELSEWHERE, label: `A variant of “${experiment}”` }]
    : []),
]
async function show(device: PinnedDevice, value: string): Promise<void> {
  if (value === ELSEWHERE) return
  const body =
    value === AS_IT_IS ? { experiment: null, variant: null } : { experiment: props.place.experiment, variant: value }
  await attempt(async () => {
    await api('showOnDevice', { site: props.place.site, device: device.id, body })
    notices.show(`${device.name} shows it from its next page.`)
  })
}
const unpin = (device: PinnedDevice) =>
  attempt(async () => {
    await api('unpinDevice', { site: props.place.site, device: device.id })
    notices.show(`${device.name} is unpinned.`)
  })
async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
  await reload()
}
</script>

<template>
  <section aria-labelledby="pinned-devices">
    <h3 id="pinned-devices">Pinned devices</h3>
    <p class="mb-2 text-sm text-ink-soft">
      Open the link once on a phone or tablet of yours. From then on it shows what is chosen here, and is never counted.
    </p>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!devices" />
    <ul v-else class="flex flex-col">
      <li v-for="device in devices" :key="device.id" class="flex flex-wrap items-end gap-2 border-b border-line py-2">
        <ChoiceField
          class="min-w-48 flex-1"
          :model-value="shown(device)"
          :label="`${device.name} shows`"
          :choices="choicesOf(device)"
          @update:model-value="show(device, $event)"
        />
        <BaseButton kind="quiet" :aria-label="`Copy the link of ${device.name}`" @click="copyLink(device)"
          >Copy link</BaseButton
        >
        <BaseButton kind="quiet" :aria-label="`Unpin ${device.name}`" @click="unpin(device)">Unpin</BaseButton>
        <p v-if="!device.seenAt" class="w-full text-sm text-ink-soft">Not opened yet</p>
      </li>
    </ul>
    <form class="mt-3 flex items-end gap-2" novalidate @submit.prevent="pin">
      <TextField
        v-model="name"
        class="flex-1"
        label="Name of a device"
        placeholder="Mara’s phone"
        :error="errors.name"
      />
      <BaseButton type="submit" :disabled="isSaving">Pin a device</BaseButton>
    </form>
  </section>
</template>
