<script setup lang="ts">
import type { Edit } from '~~/core/edits/content'
import type { Standing } from '~~/core/edits/standing'
import type { SheetVariant } from '~~/core/sheet/content'
import { describeEdit } from '~~/core/edits/edit'
import type { TableColumn } from '~/data/tableColumn'

/** Whether the site itself has what is served by now: then serving it makes no difference any more. */
const props = defineProps<{
  siteId: number
  /** The sheet that says what is served. */
  experimentId: number
  variants: readonly SheetVariant[]
  timeZone: string
  mayEdit: boolean
}>()
const api = useApi()
const place = { site: props.siteId, experiment: props.experimentId }
const { value: check, problem, reload } = useLoaded(() => api('readHomeCheck', place))
const { isSaving: isLooking, save } = useSaving()
const lookNow = () =>
  save(async () => {
    check.value = await api('lookAtHome', place)
  })
const STANDING_WORDS: Record<Standing, string> = {
  'built in': 'The site has it',
  needed: 'Vetch makes it',
  lost: 'Its element is gone',
  unknown: 'Look by hand',
}
interface Row {
  key: string
  variant: string
  edit: Edit
  standing: Standing
}
const rows = computed(() =>
  (check.value?.look?.variants ?? []).flatMap(({ variant, edits }): Row[] => {
    const own = props.variants.find(({ id }) => id === variant)
    return edits.flatMap(({ edit: id, standing }) => {
      const edit = own?.edits.find((each) => each.id === id)
      return own && edit ? [{ key: `${variant} ${id}`, variant: own.name, edit, standing }] : []
    })
  }),
)
const columns = computed<TableColumn<Row>[]>(() => [
  { id: 'edit', header: 'Change', value: ({ edit }) => edit.title?.trim() || describeEdit(edit), isHeading: true },
  ...(props.variants.length > 2
    ? [{ id: 'wording', header: 'Wording', value: ({ variant }: Row) => variant } satisfies TableColumn<Row>]
    : []),
  { id: 'standing', header: 'On the site', value: ({ standing }) => STANDING_WORDS[standing] },
])
</script>

<template>
  <section aria-labelledby="going-home">
    <div class="mb-1 flex flex-wrap items-baseline gap-3">
      <h2 id="going-home" class="mr-auto">In the site’s own code</h2>
      <BaseButton v-if="mayEdit" kind="quiet" :disabled="isLooking" @click="lookNow">{{
        isLooking ? 'Looking …' : 'Look at the site'
      }}</BaseButton>
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="!check?.look" class="text-ink-soft">
      Vetch can look whether the site’s own pages show these changes by now.
    </p>
    <template v-else>
      <p class="mb-2 max-w-[72ch]" data-testid="going-home">
        <template v-if="check.isBuiltIn">
          <span class="font-semibold text-pine">No longer needed.</span>
          {{
            check.look.isSame
              ? 'The site has all of it: visitors see the same once it is stopped.'
              : 'The site has all of it, and Vetch adds some of it again. Stop it.'
          }}
        </template>
        <template v-else>The site does not have all of it yet.</template>
        <span class="text-ink-soft">
          Looked at {{ check.look.pages.join(', ') }} on {{ formatDate(check.checkedAt!, timeZone) }}, as phone and
          desktop.
        </span>
      </p>
      <DataTable label="In the site’s own code" :columns="columns" :rows="rows" :row-key="({ key }) => key" />
    </template>
  </section>
</template>
