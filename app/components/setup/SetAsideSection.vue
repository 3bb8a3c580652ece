<script setup lang="ts">
/** Events that could not be counted, why, and a way to count them once the cause is mended. */
const props = defineProps<{ siteId: number; timeZone: string }>()
const api = useApi()
const notices = useNoticesStore()
const { value: reasons, problem, reload } = useLoaded(() => api('readSetAside', { site: props.siteId }))
const isCounting = ref(false)

async function countAgain(): Promise<void> {
  isCounting.value = true
  try {
    const { counted, left } = await api('countSetAside', { site: props.siteId })
    const events = (number: number) => `${formatCount(number)} ${number === 1 ? 'event' : 'events'}`
    notices.show(
      left === 0
        ? `Counted ${events(counted)}. Nothing is set aside any more.`
        : `Counted ${events(counted)}. ${events(left)} still cannot be counted.`,
      left === 0 ? {} : { tone: 'problem' },
    )
    await reload()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  } finally {
    isCounting.value = false
  }
}
</script>

<template>
  <section v-if="problem || (reasons && reasons.length > 0)" id="set-aside" aria-labelledby="set-aside-head">
    <h2 id="set-aside-head" class="mb-2">Events set aside</h2>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <template v-else>
      <p class="mb-3 max-w-2xl text-ink-soft">
        These events were received but could not be counted. Nothing is lost: they are counted once the cause is fixed.
      </p>
      <ul class="mb-3 flex max-w-2xl flex-col gap-1">
        <li
          v-for="each in reasons"
          :key="each.reason"
          class="flex flex-wrap justify-between gap-x-4 border-t border-line py-1"
        >
          <span class="break-all font-mono text-sm">{{ each.reason }}</span>
          <span class="text-sm text-ink-soft">
            {{ formatCount(each.events) }} {{ each.events === 1 ? 'event' : 'events' }} since
            {{ formatTime(each.since, timeZone) }}
          </span>
        </li>
      </ul>
      <BaseButton :disabled="isCounting" @click="countAgain">
        {{ isCounting ? 'Counting …' : 'Count them again' }}
      </BaseButton>
    </template>
  </section>
</template>
