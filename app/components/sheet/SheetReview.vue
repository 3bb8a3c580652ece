<script setup lang="ts">
import type { ReviewView } from '~~/shared/experiments/reviewReplies'
import type { CommentView } from '~~/shared/hypotheses/replies'

/** What people say of the experiment, and whether those who were asked approve it. */
defineProps<{ mayAsk: boolean; mayAnswer: boolean }>()
const store = useSheetStore()
const api = useApi()
const notices = useNoticesStore()
const { value: review, problem, reload } = useLoaded(() => api('readReview', store.place))
const isAsking = ref(false)
const own = computed(() => review.value?.approvals.find(({ isOwn }) => isOwn) ?? null)
/** Answers are of the sheet as it is: a change makes them old. */
watch(() => store.work?.served.value?.version, reload)

const say = async (words: string) => {
  review.value = await api('addExperimentComment', { ...store.place, body: { words } })
}
const takeBack = async ({ id }: CommentView) => {
  await api('deleteExperimentComment', { ...store.place, comment: id })
  await reload()
}
async function ask(person: number): Promise<void> {
  await attempt(async () => {
    review.value = await api('askApproval', { ...store.place, body: { person } })
    isAsking.value = false
    notices.show('Asked. They get a letter, and see it on Today.')
  })
}
async function withdraw(approval: number): Promise<void> {
  await attempt(async () => {
    await api('withdrawApproval', { ...store.place, approval })
    await reload()
  })
}
async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
}
const answered = (changed: ReviewView) => (review.value = changed)
</script>

<template>
  <SheetSection name="review" title="Review" note="What people say, and who approves.">
    <template #action>
      <BaseButton v-if="mayAsk && !isAsking" kind="quiet" @click="isAsking = true">Ask for approval</BaseButton>
    </template>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!review" />
    <div v-else class="flex flex-col gap-6">
      <ApprovalRequest
        v-if="isAsking"
        :people="review.people"
        :asked="review.approvals.filter(({ answer }) => answer === null).map(({ personId }) => personId)"
        @ask="ask"
        @cancel="isAsking = false"
      />
      <ApprovalList
        v-if="review.approvals.length > 0"
        :approvals="review.approvals"
        :time-zone="store.sheet!.timeZone"
        :may-ask="mayAsk"
        @ask="ask"
        @withdraw="withdraw"
      />
      <ApprovalAnswer v-if="own && mayAnswer" :place="store.place" :own="own" @answered="answered" />
      <CommentList
        :comments="review.comments"
        :people="review.people"
        :time-zone="store.sheet!.timeZone"
        :say="say"
        :take-back="takeBack"
        is-below
      />
    </div>
  </SheetSection>
</template>
