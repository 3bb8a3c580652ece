<script setup lang="ts">
import { STAGES, type Stage } from '~~/shared/hypotheses/hypothesis'

useHead({ title: 'Board of hypotheses · Vetch' })
const route = useRoute('sites-site-hypotheses-board')
const siteId = Number(route.params.site)
const notices = useNoticesStore()
const { value: loaded, problem, isLoading, reload, api, metrics, mayEdit } = useIdeas(siteId)
/** Of long columns the first in the ranking. */
const MOST_SHOWN = 50
const columns = computed(() =>
  STAGES.map((stage) => {
    const all = (loaded.value?.hypotheses ?? []).filter((each) => each.stage === stage)
    const limit = stage === 'worth testing' || stage === 'in test' ? (loaded.value?.terms.limits[stage] ?? null) : null
    return { stage, limit, count: all.length, shown: all.slice(0, MOST_SHOWN) }
  }),
)
const cards = useTemplateRef<{ ask: (stage: Stage) => void; holds: (id: number) => boolean }[]>('cards')

async function move(id: number, stage: Stage, reason: string | null): Promise<void> {
  const before = loaded.value!.hypotheses.find((each) => each.id === id)!.stage
  try {
    const { title } = await api('setHypothesisStage', { site: siteId, hypothesis: id, body: { stage, reason } })
    await reload()
    notices.show(`${title}: ${stage}.`, { undo: () => move(id, before, 'Moved by mistake.') })
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
    await reload()
  }
}
/** The card asks why, where a reason is needed. */
const drop = (id: number, stage: Stage) => cards.value?.find((card) => card.holds(id))?.ask(stage)
</script>

<template>
  <div class="p-6 lg:p-8">
    <HypothesesHead
      :site-id="siteId"
      note="Where each one stands. Experiments that start and end move theirs by themselves"
    />
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!loaded" />
    <div
      v-else
      class="grid gap-3 sm:grid-cols-2 lg:grid-cols-5"
      :class="{ 'opacity-60': isLoading }"
      :aria-busy="isLoading"
    >
      <BoardColumn
        v-for="column in columns"
        :key="column.stage"
        :stage="column.stage"
        :count="column.count"
        :limit="column.limit"
        @dropped="drop($event, column.stage)"
      >
        <BoardCard
          v-for="each in column.shown"
          :key="each.id"
          ref="cards"
          :site-id="siteId"
          :hypothesis="each"
          :metric="metrics.get(each.metric ?? '')"
          :currency="loaded.currency"
          :may-edit="mayEdit"
          @move="(stage, reason) => move(each.id, stage, reason)"
        />
        <li v-if="column.count > column.shown.length" class="text-sm">
          <NuxtLink
            :to="{ path: `/sites/${siteId}/hypotheses/list`, query: { stage: column.stage } }"
            class="text-accent underline"
            >{{ column.count - column.shown.length }} more in the list</NuxtLink
          >
        </li>
      </BoardColumn>
    </div>
  </div>
</template>
