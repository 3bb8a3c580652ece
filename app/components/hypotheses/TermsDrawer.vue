<script setup lang="ts">
import type { IdeaMetric } from '~~/shared/hypotheses/replies'
import { MOST_CRITERIA, type RankingTerms } from '~~/shared/hypotheses/hypothesis'

/** By what a team ranks: costs, what a unit is worth, scores of its own, and limits of stages. */
const props = defineProps<{
  siteId: number
  terms: RankingTerms
  metrics: readonly IdeaMetric[]
  currency: string
  mayEdit: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const open = defineModel<boolean>('open', { required: true })
const api = useApi()
const notices = useNoticesStore()
const { errors, isSaving, save } = useSaving()

interface Draft {
  dayCost: string | number | null
  paybackMonths: string | number | null
  longestWeeks: string | number | null
  rankBy: 'worth' | 'score'
  criteria: { id: string; name: string; weight: string | number | null }[]
  unitValues: Record<string, string | number | null>
  worthTesting: string | number | null
  inTest: string | number | null
}
const draftOf = ({ limits, ...terms }: RankingTerms): Draft => ({
  ...terms,
  criteria: terms.criteria.map((each) => ({ ...each })),
  unitValues: { ...terms.unitValues },

  worthTesting: limits['worth testing'],
  inTest: limits['in test'],
})
const draft = ref(draftOf(props.terms))
watch(open, (isOpen) => isOpen && (draft.value = draftOf(props.terms)))
/** Of metrics whose events carry no money. */
const valued = computed(() => props.metrics.filter(({ kind, isMoney }) => kind !== 'ratio' && !isMoney))
let drawn = 0
function addCriterion(): void {
  const id = `criterion-${Date.now().toString(36)}${(drawn += 1)}`
  draft.value.criteria = [...draft.value.criteria, { id, name: '', weight: 1 }]
}
const put = (terms: RankingTerms) => api('updateRankingTerms', { site: props.siteId, body: terms })
const submit = () =>
  save(async () => {
    const before = props.terms
    const { worthTesting, inTest, unitValues, ...rest } = draft.value
    const given = Object.entries(unitValues).filter(([, value]) => value !== null && value !== '')
    await api('updateRankingTerms', {
      site: props.siteId,
      body: {
        ...rest,
        unitValues: Object.fromEntries(given.map(([id, value]) => [id, Number(value)])),
        limits: { 'worth testing': worthTesting, 'in test': inTest },
      },
    })
    open.value = false
    emit('changed')
    notices.show('The list is ranked anew.', {
      undo: async () => {
        await put(before)
        emit('changed')
      },
    })
  })
</script>

<template>
  <SideDrawer v-model:open="open" title="Ranked by">
    <form class="flex flex-col gap-5" novalidate @submit.prevent="submit">
      <fieldset class="flex flex-col gap-3" :disabled="!mayEdit">
        <ChoiceField
          v-model="draft.rankBy"
          label="The list is ranked by"
          :choices="[
            { value: 'worth', label: 'gain a month for a day of effort' },
            { value: 'score', label: 'scores of our own' },
          ]"
        />
        <TextField
          v-model="draft.dayCost"
          label="A day of effort costs"
          numeric
          :unit="currency"
          :error="errors.dayCost"
        />
        <TextField
          v-model="draft.paybackMonths"
          label="It has to pay for itself within"
          numeric
          unit="months"
          :error="errors.paybackMonths"
        />
        <TextField
          v-model="draft.longestWeeks"
          label="The longest test that we run"
          numeric
          unit="weeks"
          :error="errors.longestWeeks"
        />
      </fieldset>
      <fieldset v-if="valued.length > 0" class="flex flex-col gap-3" :disabled="!mayEdit">
        <legend class="mb-1 font-semibold">What one is worth</legend>
        <p class="text-sm text-ink-soft">Where left empty, the mean amount that comes with it, if there is one.</p>
        <TextField
          v-for="metric in valued"
          :key="metric.id"
          :model-value="draft.unitValues[metric.id] ?? ''"
          :label="metric.name"
          numeric
          :unit="currency"
          @update:model-value="draft.unitValues[metric.id] = $event"
        />
        <p v-if="errors.unitValues" class="text-sm text-rust" role="alert">{{ errors.unitValues }}</p>
      </fieldset>
      <fieldset class="flex flex-col gap-3" :disabled="!mayEdit">
        <legend class="mb-1 font-semibold">Scores of our own</legend>
        <p class="text-sm text-ink-soft">From 0 to 10 each. The score is their mean by weight.</p>
        <div v-for="(criterion, index) in draft.criteria" :key="criterion.id" class="flex items-start gap-2">
          <TextField
            v-model="criterion.name"
            class="flex-1"
            :label="`Criterion ${index + 1}`"
            :error="errors[`criteria[${index}].name`]"
          />
          <TextField
            v-model="criterion.weight"
            class="w-20"
            label="Weight"
            numeric
            :error="errors[`criteria[${index}].weight`]"
          />
          <BaseButton
            kind="quiet"
            class="mt-6"
            :aria-label="`Remove criterion ${index + 1}`"
            @click="draft.criteria = draft.criteria.filter((each) => each.id !== criterion.id)"
            >Remove</BaseButton
          >
        </div>
        <div>
          <BaseButton v-if="draft.criteria.length < MOST_CRITERIA" @click="addCriterion">Add a criterion</BaseButton>
        </div>
      </fieldset>
      <fieldset class="flex flex-col gap-3" :disabled="!mayEdit">
        <legend class="mb-1 font-semibold">At most at a time</legend>
        <TextField
          v-model="draft.worthTesting"
          label="Worth testing"
          numeric
          placeholder="no limit"
          :error="errors['limits.worth testing'] ?? errors[`limits[&quot;worth testing&quot;]`]"
        />
        <TextField
          v-model="draft.inTest"
          label="In test"
          numeric
          placeholder="no limit"
          :error="errors['limits.in test'] ?? errors[`limits[&quot;in test&quot;]`]"
        />
      </fieldset>
      <div v-if="mayEdit" class="flex gap-2">
        <BaseButton type="submit" kind="main" :disabled="isSaving">Save</BaseButton>
        <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
      </div>
    </form>
  </SideDrawer>
</template>
