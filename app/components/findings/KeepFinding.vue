<script setup lang="ts">
import { findingBody, newFindingDraft } from '~/data/findingDraft'
import { pictureOfView } from '~/data/pictureOfView'
import { namedPath } from '~~/core/targeting/pageRule'
import { readPage } from '~~/shared/evidence/filter'
import type { FrozenReport } from '~~/shared/findings/finding'

/** Freezes what is seen as a finding: the question with its figures, a picture, and what somebody says of it. */
const props = defineProps<{
  siteId: number
  report: FrozenReport
  question: object
  /** Of several forms or pages in the report the one that is looked at. */
  focus?: string
  /** The page that it is about, where the view itself knows. */
  page?: string | null
  /** The view within Evidence, where its address says less than what is seen. */
  place?: string
}>()
const api = useApi()
const account = useAccountStore()
const notices = useNoticesStore()
const route = useRoute()
const mayEdit = computed(() => account.site(props.siteId)?.role !== 'viewer')
const isOpen = ref(false)
const isTaking = ref(false)
const prepare = useBeforePicture()
const missing = ref<string | null>(null)
const draft = ref(newFindingDraft())
const { errors, isSaving, save } = useSaving()
const picture = shallowRef<Blob | null>(null)
const hasPicture = ref(true)
const pictureAddress = useObjectUrl(picture)
/** Whether what was typed belongs to the view that is open now. */
let openedAt = ''

/** The page that the view is about, where it is about one. */
function pageOfView(): string {
  if (props.page) return props.page
  if (props.focus?.startsWith('/')) return props.focus.split(' ')[0]!
  const of = [route.query.of, route.query.page].find((each) => typeof each === 'string')
  const rule = typeof of === 'string' ? readPage(of) : null
  return (rule && namedPath(rule)) ?? ''
}
async function open(): Promise<void> {
  if (!mayEdit.value || isOpen.value) return
  errors.value = {}
  if (openedAt !== route.fullPath) draft.value = newFindingDraft(pageOfView())
  openedAt = route.fullPath
  isOpen.value = true
  isTaking.value = true
  missing.value = await prepare()
  openedAt = route.fullPath
  picture.value = await pictureOfView()
  isTaking.value = false
}
useShortcuts([{ keys: 'f', label: 'Save this view as a finding', run: () => void open(), isOn: () => mayEdit.value }])

const keep = () =>
  save(async () => {
    const place = props.place ?? route.fullPath.replace(/^\/sites\/\d+\/evidence\//, '')
    const frozen = { report: props.report, question: props.question, focus: props.focus ?? null, place }
    const body = { ...findingBody(draft.value), frozen, pin: null }
    const { id } = await api('createFinding', { site: props.siteId, body })
    isOpen.value = false
    openedAt = ''
    const lost = hasPicture.value && picture.value ? await attachPicture(id, picture.value) : null
    const undo = async () => void (await api('deleteFinding', { site: props.siteId, finding: id }))
    notices.show(lost === null ? 'Saved as a finding.' : `Saved as a finding, without its picture: ${lost}`, { undo })
  })
/** @returns why it could not be attached, or null */
async function attachPicture(finding: number, file: Blob): Promise<string | null> {
  const query = { name: 'The view.jpg', isPicture: 'yes' }
  try {
    await api('addAttachment', { site: props.siteId, finding, query, file })
    return null
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    return error.message
  }
}
</script>

<template>
  <template v-if="mayEdit">
    <BaseButton kind="quiet" title="f" @click="open">Save as a finding</BaseButton>
    <PlainDialog v-model:open="isOpen" title="Save as a finding">
      <form id="keep-finding" novalidate @submit.prevent="keep">
        <FindingFields v-model="draft" :errors="errors" />
        <p class="mt-3 text-sm text-ink-soft">The filters and their current figures are saved with it.</p>
        <p v-if="isTaking" class="mt-2 text-sm">Taking a picture of the view …</p>
        <label v-else-if="pictureAddress" class="mt-2 flex items-start gap-2">
          <input v-model="hasPicture" type="checkbox" class="mt-1 accent-accent" />
          <span
            >Include this picture<img
              :src="pictureAddress"
              alt="The view as it is seen now"
              class="mt-1 max-h-36 border border-line"
          /></span>
        </label>
        <p v-else class="mt-2 text-sm">The browser could not take a picture of this view.</p>
        <p v-if="!isTaking && missing" class="mt-2 text-sm">{{ missing }}</p>
      </form>
      <template #actions>
        <BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton>
        <BaseButton kind="main" type="submit" form="keep-finding" :disabled="isSaving || isTaking">{{
          isSaving ? 'Saving …' : 'Save'
        }}</BaseButton>
      </template>
    </PlainDialog>
  </template>
</template>
