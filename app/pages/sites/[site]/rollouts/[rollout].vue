<script setup lang="ts">
import { conditionInWords } from '~~/core/targeting/conditionWords'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import type { RolloutChange } from '~~/shared/rollouts/rollout'

const route = useRoute('sites-site-rollouts-rollout')
const siteId = Number(route.params.site)
const rolloutId = Number(route.params.rollout)
const account = useAccountStore()
const notices = useNoticesStore()
const mayEdit = computed(() => account.site(siteId)?.role !== 'viewer')
const timeZone = computed(() => account.site(siteId)?.timeZone ?? 'UTC')
const api = useApi()
const thread = useTemplateRef('thread')
const { value: rollout, problem, reload } = useLoaded(() => api('readRollout', { site: siteId, rollout: rolloutId }))
const { value: sheet } = useLoaded(async () => {
  const { experiment } = await api('readRollout', { site: siteId, rollout: rolloutId })
  return api('readExperiment', { site: siteId, experiment })
})
const edits = computed(() => (rollout.value && sheet.value?.variants[rollout.value.variant.position]?.edits) ?? [])
const { name: names } = useConditionNames(siteId, () => rollout.value?.audience ?? null)
useHead({ title: computed(() => `${rollout.value?.name ?? 'Rollout'} · Vetch`) })

const reach = reactive<{ share: number | string; isForEverybody: boolean }>({ share: 10_000, isForEverybody: false })
const isChanging = ref(false)
function openReach(): void {
  Object.assign(reach, { share: rollout.value!.share, isForEverybody: rollout.value!.isForEverybody })
  isChanging.value = true
}
const { errors, isSaving, save } = useSaving()
type Wanted = Omit<RolloutChange, 'version'>
const change = (wanted: Wanted, done: string) =>
  save(async () => {
    const { share, isForEverybody, isOn } = rollout.value!
    await send(wanted)
    isChanging.value = false
    notices.show(done, { undo: () => send({ share, isForEverybody, isOn }) })
  })
async function send(wanted: Wanted): Promise<void> {
  const body = { ...wanted, version: rollout.value!.version }
  rollout.value = await api('changeRollout', { site: siteId, rollout: rolloutId, body })
  void thread.value?.reload()
}
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!rollout" />
    <div v-else class="flex flex-col gap-7">
      <ThreadLine :id="rolloutId" ref="thread" :site-id="siteId" of="rollout" />
      <header class="flex flex-wrap items-start gap-3">
        <div class="mr-auto min-w-0">
          <h1 class="break-words">{{ rollout.name }}</h1>
          <p class="text-ink-soft" data-testid="state">
            <span :class="{ 'text-pine': rollout.isOn }">{{ rollout.isOn ? '▶ served' : '■ stopped' }}</span>,
            {{ rollout.person ? `begun by ${rollout.person} on` : 'since' }}
            {{ formatDate(rollout.createdAt, timeZone) }}
          </p>
        </div>
        <template v-if="mayEdit">
          <BaseButton
            v-if="rollout.isOn"
            :disabled="isSaving"
            @click="change({ isOn: false }, 'Stopped. Everybody sees the original.')"
            >Stop serving</BaseButton
          >
          <BaseButton v-else kind="main" :disabled="isSaving" @click="change({ isOn: true }, 'Served again.')"
            >Serve again</BaseButton
          >
        </template>
      </header>
      <AlarmSection :site-id="siteId" :of="{ rollout: rolloutId }" :time-zone="timeZone" :may-edit="mayEdit" />
      <section aria-labelledby="for-whom">
        <div class="mb-1 flex items-baseline gap-3">
          <h2 id="for-whom">For whom</h2>
          <BaseButton v-if="mayEdit" kind="quiet" @click="openReach">Change …</BaseButton>
        </div>
        <p class="max-w-[72ch]" data-testid="reach">
          {{ rollout.share === 10_000 ? 'All visitors' : `${formatPercent(rollout.share / 10_000)} of the visitors` }}
          of {{ pageRulesInWords(rollout.pageRules)
          }}<template v-if="rollout.audience && !rollout.isForEverybody"
            >, of these only: {{ conditionInWords(rollout.audience, names) }}</template
          >.
          <template v-if="rollout.holdouts.length > 0"
            >Kept from the visitors of {{ rollout.holdouts.length === 1 ? 'the holdout' : 'the holdouts' }}
            {{ rollout.holdouts.map((each) => `“${each}”`).join(', ') }}.</template
          >
        </p>
      </section>
      <section aria-labelledby="what">
        <h2 id="what" class="mb-2 flex items-baseline gap-2">
          <VariantMark :position="rollout.variant.position" /> {{ rollout.variant.name }}
          <a
            :href="`/api/sites/${siteId}/experiments/${rollout.experiment}/developers.md?variant=${rollout.variant.position}`"
            class="ml-auto text-base font-normal text-ink-soft hover:text-ink hover:underline"
            >Text for developers</a
          >
        </h2>
        <ul class="flex flex-col gap-3">
          <li v-for="edit in edits" :key="edit.id"><EditSummary :edit="edit" /></li>
        </ul>
      </section>
      <GoingHome
        v-if="rollout.isOn && sheet"
        :site-id="siteId"
        :experiment-id="rollout.experiment"
        :variants="sheet.variants"
        :time-zone="timeZone"
        :may-edit="mayEdit"
      />
      <RolloutDays :site-id="siteId" :rollout="rollout" :time-zone="timeZone" />
      <ChangeHistory
        :load="(after) => api('listRolloutChanges', { site: siteId, rollout: rolloutId, query: { after } })"
        :version="rollout.version"
        :time-zone="timeZone"
      />
    </div>
    <PlainDialog v-if="rollout" v-model:open="isChanging" title="For whom?">
      <form
        id="change-reach"
        novalidate
        @submit.prevent="change({ ...reach, share: reach.share as number }, 'Changed.')"
      >
        <RolloutReach
          v-model:share="reach.share"
          v-model:is-for-everybody="reach.isForEverybody"
          :has-audience="rollout.audience !== null"
          :errors="errors"
        />
      </form>
      <template #actions>
        <BaseButton kind="quiet" @click="isChanging = false">Cancel</BaseButton>
        <BaseButton kind="main" type="submit" form="change-reach" :disabled="isSaving">Save</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
