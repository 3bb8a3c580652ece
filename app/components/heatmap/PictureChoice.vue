<script setup lang="ts">
import type { PagePicture } from '~~/shared/pictures/pageOperations'

/** What a heatmap is drawn over: the page as it is now, or a picture of it that was kept. */
const props = defineProps<{ siteId: number; path: string; width: number; timeZone: string; mayEdit: boolean }>()
const picture = defineModel<PagePicture | null>({ required: true })
const api = useApi()
const notices = useNoticesStore()
const changeQuery = useQueryChange()
const route = useRoute()
const { value: pictures, reload } = useLoaded(() =>
  api('listPagePictures', { site: props.siteId, query: { path: props.path, width: props.width } }),
)
watch([() => props.path, () => props.width], reload)
const chosen = computed({
  get: () => String(route.query.picture ?? ''),
  set: (value: string) => changeQuery(({ picture: _, ...rest }) => (value ? { ...rest, picture: value } : rest)),
})
watch([pictures, chosen], () => {
  picture.value = pictures.value?.find(({ id }) => String(id) === chosen.value) ?? null
})
const choices = computed(() => [
  { value: '', label: 'page as it is now' },
  ...(pictures.value ?? []).map(({ id, takenAt }) => ({
    value: String(id),
    label: `as it was on ${formatTime(takenAt, props.timeZone)}`,
  })),
])
/** A page is as its picture for so long, in ms: to freeze it twice takes no second one. */
const FRESH = 10 * 60_000
const isTaking = ref(false)
const isAsking = ref(false)

/** @throws ApiProblem with why there is none */
async function take(): Promise<number> {
  isTaking.value = true
  try {
    const body = { path: props.path, width: props.width }
    const { id } = await api('keepPagePicture', { site: props.siteId, body })
    await reload()
    return id
  } finally {
    isTaking.value = false
  }
}
async function keep(): Promise<void> {
  try {
    const id = await take()
    notices.show('The picture is saved.', { undo: () => remove(id) })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}

/**
 * Draws over a picture of the page from now on: no picture of the view can hold the page of another origin, and the
 * page that a finding speaks of may change.
 *
 * @returns what hinders it, in words, or null
 */
async function fixPage(): Promise<string | null> {
  if (picture.value) return null
  try {
    const [latest] = pictures.value ?? []
    const isFresh = latest && Date.now() - Date.parse(latest.takenAt) < FRESH
    chosen.value = String(isFresh ? latest.id : await take())
    await until(() => picture.value).toBeTruthy({ timeout: 5000 })
    await nextTick()
    return null
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    return `The page itself is blank in it: ${error.message}`
  }
}
defineExpose({ fixPage })
async function remove(id: number): Promise<void> {
  isAsking.value = false
  await api('deletePagePicture', { site: props.siteId, picture: id })
  if (chosen.value === String(id)) chosen.value = ''
  await reload()
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <ChoiceField v-model="chosen" class="w-56" label="On top of" is-bare :choices="choices" />
    <template v-if="mayEdit">
      <BaseButton v-if="picture" kind="quiet" @click="isAsking = true">Delete the picture …</BaseButton>
      <BaseButton v-else kind="quiet" :disabled="isTaking" @click="keep">{{
        isTaking ? 'Taking a picture …' : 'Save a picture'
      }}</BaseButton>
    </template>
    <PlainDialog v-if="picture" v-model:open="isAsking" title="Delete this picture?">
      <p>This cannot be undone.</p>
      <template #actions>
        <BaseButton kind="quiet" @click="isAsking = false">Cancel</BaseButton>
        <BaseButton kind="main" @click="remove(picture.id)">Delete</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
