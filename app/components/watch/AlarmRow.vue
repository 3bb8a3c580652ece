<script setup lang="ts">
import type { AlarmView } from '~~/shared/watch/replies'
import { alarmTitle } from '~~/core/watch/finding'
import { alarmLink } from '~~/shared/watch/alarmLink'

/** One alarm: what, since when, who has taken it on, and the word for whoever takes it on now. */
const props = defineProps<{ alarm: AlarmView; siteId: number; timeZone: string; mayEdit: boolean; isOfOne?: boolean }>()
const emit = defineEmits<{ acknowledged: [] }>()
const api = useApi()
const word = ref('')
const isOpen = ref(false)
const { isUnderWay, problem, request } = useRequest()
const times = computed(() => {
  const { openedAt, closedAt } = props.alarm
  const from = formatTime(openedAt, props.timeZone)
  return closedAt ? `${from} to ${formatTime(closedAt, props.timeZone)}` : `since ${from}`
})
const acknowledge = () =>
  request(async () => {
    await api('acknowledgeAlarm', { site: props.siteId, alarm: props.alarm.id, body: { word: word.value } })
    isOpen.value = false
    emit('acknowledged')
  })
</script>

<template>
  <li class="flex flex-col gap-1 border-b border-line px-2 py-3" data-testid="alarm">
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span class="text-sm font-medium" :class="alarm.closedAt ? 'text-ink-soft' : 'text-rust'">{{
        alarm.closedAt ? '✓ Over' : '✕ Open'
      }}</span>
      <NuxtLink
        v-if="alarm.name !== null && !isOfOne"
        class="font-semibold hover:underline"
        :to="alarmLink(siteId, alarm)"
        >{{ alarm.name }}</NuxtLink
      >
      <span v-if="alarm.rolloutId !== null && !isOfOne" class="text-sm text-ink-soft">rollout</span>
      <span class="font-medium">{{ alarmTitle(alarm.check) }}</span>
      <span class="text-sm text-ink-soft">{{ times }}</span>
    </p>
    <p class="max-w-[72ch]">{{ alarm.text }}</p>
    <p v-if="alarm.acknowledged" class="max-w-[72ch] text-sm text-ink-soft">
      {{ alarm.acknowledged.by ?? 'Somebody' }}, {{ formatTime(alarm.acknowledged.at, timeZone) }}: “{{
        alarm.acknowledged.word
      }}”
    </p>
    <template v-else-if="mayEdit && !alarm.closedAt">
      <form v-if="isOpen" class="flex max-w-xl flex-wrap items-end gap-3" @submit.prevent="acknowledge">
        <TextField v-model="word" class="grow" label="What you know or do" :error="problem" />
        <BaseButton type="submit" :disabled="isUnderWay">Acknowledge</BaseButton>
        <BaseButton type="button" @click="isOpen = false">Cancel</BaseButton>
      </form>
      <button v-else type="button" class="self-start text-sm font-medium text-accent underline" @click="isOpen = true">
        Acknowledge …
      </button>
    </template>
  </li>
</template>
