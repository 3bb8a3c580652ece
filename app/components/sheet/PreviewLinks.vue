<script setup lang="ts">
import type { PreviewView } from '~~/shared/experiments/replies'
import { firstPageOf } from '~/edits/firstPage'
import { MOST_PREVIEW_DAYS } from '~~/shared/experiments/previewLink'

/** Links that show a variant to a colleague, before or while it runs. */
const props = defineProps<{ place: { site: number; experiment: number } }>()
const open = defineModel<boolean>('open', { required: true })
const store = useSheetStore()
const { content } = useSheetChanges()
const api = useApi()
const notices = useNoticesStore()
const variants = computed(() => content.value.variants)
const choices = computed(() =>
  variants.value.map(({ id, name }, position) => ({ value: id, label: `${variantLetter(position)} ${name}` })),
)
const draft = reactive({
  variant: variants.value[1]?.id ?? variants.value[0]!.id,
  path: '',
  days: '7',
})
const suggested = firstPageOf(content.value, async () => (await api('readPreflight', props.place)).pages)
/** What was typed meanwhile stays. */
const fillPath = async () => void (draft.path ||= await suggested)
onMounted(fillPath)
const links = ref<PreviewView[] | null>(null)
const { problem, reload } = useLoaded(async () => {
  links.value = await api('listPreviews', props.place)
})
const { errors, isSaving, save } = useSaving()
// Also where the page is not served encrypted, which newer ways to copy ask for.
const { copy } = useClipboard({ legacy: true })
const nameOf = (id: string) => choices.value.find(({ value }) => value === id)?.label ?? 'a variant that is gone'

async function copyLink(link: string): Promise<void> {
  await copy(link)
  notices.show('Copied the link.')
}
const make = () =>
  save(async () => {
    await fillPath()
    const made = await api('createPreview', { ...props.place, body: { ...draft } })
    // A list that was asked for before may hold it already.
    links.value = [made, ...(links.value ?? []).filter(({ id }) => id !== made.id)]
    await copyLink(made.link)
  })
async function revoke(link: PreviewView): Promise<void> {
  try {
    await api('revokePreview', { ...props.place, preview: link.id })
    notices.show('The link has ended.')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
    if (error.status !== 404) return
  }
  links.value = (links.value ?? []).filter(({ id }) => id !== link.id)
}
</script>

<template>
  <PlainDialog v-model:open="open" title="Previews">
    <p class="mb-3 text-ink-soft">
      Whoever has a link sees the variant on the real page, on any device, through the whole visit. Nothing they do is
      counted.
    </p>
    <form class="grid grid-cols-2 gap-3" novalidate @submit.prevent="make">
      <ChoiceField v-model="draft.variant" label="Variant" :choices="choices" :error="errors.variant" />
      <TextField
        v-model="draft.days"
        label="Holds for"
        numeric
        unit="days"
        :hint="`At most ${MOST_PREVIEW_DAYS}`"
        :error="errors.days"
      />
      <TextField v-model="draft.path" class="col-span-2" label="Page it opens" :error="errors.path" />
      <BaseButton kind="main" type="submit" class="justify-self-start" :disabled="isSaving">Create a link</BaseButton>
    </form>
    <ProblemNote v-if="problem" class="mt-4" :text="problem" @retry="reload" />
    <ul v-else-if="links?.length" class="mt-4 flex max-h-72 flex-col overflow-y-auto border-t border-line">
      <li v-for="link in links" :key="link.id" class="flex flex-wrap items-center gap-x-3 border-b border-line py-2">
        <span class="min-w-0 flex-1">
          {{ nameOf(link.variant) }} on {{ link.path }}
          <span class="block text-sm text-ink-soft"
            >{{ link.person ? `by ${link.person}, ` : '' }}until
            {{ formatDate(link.expiresAt, store.sheet!.timeZone) }}</span
          >
        </span>
        <BaseButton kind="quiet" @click="copyLink(link.link)">Copy</BaseButton>
        <BaseButton kind="quiet" @click="revoke(link)">End it</BaseButton>
      </li>
    </ul>
    <PinnedDevices class="mt-6" :place="place" :variants="choices" />
    <template #actions><BaseButton @click="open = false">Close</BaseButton></template>
  </PlainDialog>
</template>
