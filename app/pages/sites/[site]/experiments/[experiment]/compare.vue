<script setup lang="ts">
import { PAGE_WIDTHS, type PageWidth } from '~/edits/pageWidths'
import { beginningPath } from '~~/core/targeting/pageRule'
import { DEVICES, languageSchema } from '~~/shared/pictures/variantPicture'
import { compareEdits } from '~~/core/edits/compareEdits'

const route = useRoute('sites-site-experiments-experiment-compare')
const store = useSheetStore()
const siteId = Number(route.params.site)
const sheetPath = `/sites/${siteId}/experiments/${route.params.experiment}`
const { problem, reload } = useLoaded(() => store.open(siteId, Number(route.params.experiment)))
const api = useApi()
const { value: served } = useLoaded(() =>
  api('listServedBeside', { site: siteId, experiment: Number(route.params.experiment) }),
)
/** In the address, so that a link shows the same. */
const without = useQueryChoice<string>('without', () => ['', 'served'])
const isWithServed = computed({
  get: () => without.value === '',
  set: (isWanted) => (without.value = isWanted ? '' : 'served'),
})
const shownServed = computed(() => (isWithServed.value ? (served.value ?? []) : []))
const variants = computed(() => store.sheet?.variants ?? [])
const choices = computed(() =>
  variants.value.map(({ name }, position) => ({
    value: String(position),
    label: `${variantLetter(position)} ${name}`,
  })),
)
const positions = computed(() => choices.value.map(({ value }) => value))
const one = useQueryChoice('one', () => positions.value)
const other = useQueryChoice('other', () => [...positions.value.slice(1), '0'])
const width = useQueryChoice<PageWidth>('width', () => ['820', '390', '1280'])
const change = useQueryChange()
const firstPage = computed(() => store.sheet?.pageRules.map(beginningPath).find((path) => path !== null) ?? '/')
const path = computed(() => (typeof route.query.page === 'string' ? route.query.page : firstPage.value))
const typedPath = ref('')
watch(path, () => (typedPath.value = path.value), { immediate: true })
const sides = computed(() => [Number(one.value), Number(other.value)].filter((position) => variants.value[position]))
const differences = computed(() =>
  compareEdits(variants.value[Number(one.value)]?.edits ?? [], variants.value[Number(other.value)]?.edits ?? []),
)
/** Where a variant's visitors are on this page: elsewhere, when it sends them on within the site. */
function pathOf(position: number): string {
  const redirect = variants.value[position]?.edits.find((edit) => edit.kind === 'redirect' && !edit.isOff)
  return redirect && 'value' in redirect && String(redirect.value).startsWith('/') ? String(redirect.value) : path.value
}
const device = computed(() => DEVICES.find((each) => String(each.width) === width.value) ?? DEVICES[0])
/** In the address, so that a link shows the same: the language, where the page is told of the device. */
const typedLanguage = computed({
  get: () => (typeof route.query.told === 'string' ? route.query.told : ''),
  set: (told: string) => change(({ told: _, ...rest }) => ({ ...rest, told: told || 'en' })),
})
const isTold = computed({
  get: () => typedLanguage.value !== '',
  set: (isWanted) => change(({ told: _, ...rest }) => (isWanted ? { ...rest, told: 'en' } : rest)),
})
const languageProblem = computed(() => {
  if (!isTold.value || languageSchema().isValidSync(typedLanguage.value)) return undefined
  return 'Type a language such as en or de-AT.'
})
const language = computed(() => (isTold.value && !languageProblem.value ? typedLanguage.value : null))
useHead({ title: 'Two variants · Vetch' })
</script>

<template>
  <div class="flex min-h-dvh flex-col">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!store.sheet" class="p-6" />
    <template v-else>
      <header class="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line px-5 py-2.5">
        <NuxtLink :to="sheetPath" class="text-accent underline">{{ store.sheet.name }}</NuxtLink>
        <h1 class="text-lg">Two variants side by side</h1>
      </header>
      <form
        class="flex flex-wrap items-end gap-3 px-5 py-2.5"
        @submit.prevent="change((query) => ({ ...query, page: typedPath }))"
      >
        <ChoiceField v-model="one" class="w-48" label="Left" :choices="choices" />
        <ChoiceField v-model="other" class="w-48" label="Right" :choices="choices" />
        <ChoiceField v-model="width" class="w-38" label="Width" :choices="PAGE_WIDTHS" />
        <TextField v-model="typedPath" class="w-52" label="Page" />
        <BaseButton type="submit">Open</BaseButton>
        <label v-if="served && served.length > 0" class="flex min-h-9.5 items-center gap-2">
          <input v-model="isWithServed" type="checkbox" class="accent-accent" /> With what is served
        </label>
        <label class="flex min-h-9.5 items-center gap-2">
          <input v-model="isTold" type="checkbox" class="accent-accent" /> Emulate that device
        </label>
        <TextField v-if="isTold" v-model.lazy="typedLanguage" class="w-28" label="Language" :error="languageProblem" />
      </form>
      <p v-if="language !== null" class="max-w-[90ch] px-5 pb-2.5 text-sm text-ink-soft" data-testid="told">
        Both are copies that were fetched and run as a {{ device.name.toLowerCase() }}: user agent “{{
          device.userAgent
        }}”, {{ device.isTouch ? 'touch' : 'no touch' }}, {{ device.width }} × {{ device.height }} pixels, language
        {{ language }}, and the place of the server. They have no cookies and keep nothing; styles that ask for a
        pointer see yours.
      </p>
      <div class="grid min-h-100 flex-1 gap-4 px-5 pb-4 lg:grid-cols-2">
        <section v-for="(position, side) in sides" :key="side" class="flex min-h-100 flex-col gap-1.5">
          <h2 class="flex items-center gap-2 text-base">
            <VariantMark :position="position" /> {{ variants[position]!.name }}
          </h2>
          <VariantFrame
            class="flex-1"
            :site-id="siteId"
            :path="pathOf(position)"
            :width="Number(width)"
            :edits="variants[position]!.edits"
            :served="shownServed"
            :language="language"
            :title="`The page with ${variants[position]!.name}`"
          />
        </section>
      </div>
      <section class="border-t border-line px-5 py-4" aria-labelledby="differences">
        <h2 id="differences" class="mb-2">What differs</h2>
        <p v-if="differences.length === 0" class="text-ink-soft">Both do the same.</p>
        <table v-else class="w-full max-w-4xl table-fixed">
          <thead>
            <tr class="border-b border-line text-left text-sm text-ink-soft">
              <th v-for="position in sides" :key="position" class="py-1 pr-4 font-normal">
                {{ variants[position]!.name }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="difference in differences"
              :key="`${difference.one?.id} ${difference.other?.id}`"
              class="border-b border-line align-top"
            >
              <td v-for="(edit, side) in [difference.one, difference.other]" :key="side" class="py-2 pr-4">
                <EditSummary v-if="edit" :edit="edit" />
                <span v-else class="text-ink-soft">As the page is</span>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </template>
  </div>
</template>
