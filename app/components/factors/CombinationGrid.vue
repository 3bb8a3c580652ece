<script setup lang="ts">
import { allCombinations, type Combination } from '~~/core/factors/combinations'
import { MOST_COMBINATIONS_ON } from '~~/core/preflight/factorFindings'
import type { SheetContent } from '~~/core/sheet/content'
import { gridRows } from '~/sheets/combinationGrid'

/** All combinations of the levels: those of the last factor side by side, the others below one another. */
const props = defineProps<{
  content: SheetContent
  place: { site: number; experiment: number }
  pictures: ReturnType<typeof useVariantPictures>
  mayEdit?: boolean
}>()
const route = useRoute('sites-site-experiments-experiment')
const { make } = useSheetChanges()
const all = computed(() => allCombinations(props.content.factors, props.content.combinationsOff))
const on = computed(() => all.value.filter(({ isOn }) => isOn))
const last = computed(() => props.content.factors.at(-1)!)
const rows = computed(() => gridRows(props.content.factors, all.value))
const positionOf = (id: string) => on.value.findIndex((each) => each.id === id)

function toggle({ id, isOn, name }: Combination): void {
  const list = { part: 'combinationsOff' } as const
  if (isOn) make({ do: 'add', list, item: { id }, before: null }, `Switched off ${name}.`)
  else make({ do: 'remove', list, item: { id } }, `Switched on ${name}.`)
}
function setOff(combinationsOff: { id: string }[], told: string): void {
  make({ do: 'replace', from: { combinationsOff: props.content.combinationsOff }, to: { combinationsOff } }, told)
}
</script>

<template>
  <section aria-label="Combinations">
    <div class="mb-2 flex flex-wrap items-baseline gap-x-4">
      <h3>Combinations</h3>
      <p :class="on.length > MOST_COMBINATIONS_ON ? 'text-rust' : 'text-ink-soft'">
        {{ on.length }} of {{ all.length }} are on{{
          on.length > MOST_COMBINATIONS_ON ? `; at most ${MOST_COMBINATIONS_ON} run at once` : ''
        }}.
      </p>
      <FractionChoice v-if="mayEdit" class="ml-auto" :content="content" @choose="setOff" />
    </div>
    <div class="relative overflow-x-auto" tabindex="0" aria-label="Combinations of the levels" role="group">
      <table class="w-full border-collapse">
        <thead>
          <tr class="border-b border-line-strong text-left text-sm [&>th]:px-2 [&>th]:pb-1 [&>th]:font-medium">
            <th v-for="factor in content.factors.slice(0, -1)" :key="factor.id" class="text-ink-soft" scope="col">
              {{ factor.name }}
            </th>
            <th v-for="level in last.levels" :key="level.id" class="border-l border-line" scope="col">
              <span class="font-normal text-ink-soft">{{ last.name }}:</span> {{ level.name }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.cells[0]!.id" class="border-b border-line align-top">
            <th
              v-for="heading in row.headings"
              :key="heading.id"
              :rowspan="heading.rows"
              class="border-r border-line px-2 py-2 text-left font-normal"
              scope="row"
            >
              {{ heading.name }}
            </th>
            <td v-for="cell in row.cells" :key="cell.id" class="border-l border-line px-2 py-2">
              <CombinationCell
                :name="cell.name"
                :position="positionOf(cell.id)"
                :is-control="cell.id === all[0]!.id"
                :may-edit="mayEdit"
                :compare="`${route.path}/compare?one=0&other=${positionOf(cell.id)}`"
                @toggle="toggle(cell)"
              />
              <CombinationPicture
                v-if="cell.isOn"
                :variant="cell.id"
                :name="cell.name"
                :place="place"
                :work="pictures"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <MixedEffects :factors="content.factors" :combinations="on" />
  </section>
</template>
