<script setup lang="ts">
import type { NewWebhookView, WebhookView } from '~~/shared/webhooks/replies'
import { OCCURRENCE_WORDS } from '~~/core/notifications/occurrence'

/** One webhook: where it leads, how it fares, and what was sent to it. */
const props = defineProps<{ webhook: WebhookView; siteId: number; timeZone: string }>()
const emit = defineEmits<{ changed: []; drawn: [webhook: NewWebhookView] }>()
const api = useApi()
const notices = useNoticesStore()
const isChanging = ref(false)
const isOpen = ref(false)
const log = useTemplateRef('log')
const { problem, isUnderWay, request } = useRequest()
const place = computed(() => ({ site: props.siteId, webhook: props.webhook.id }))
const STATES: Record<WebhookView['state'], string> = {
  on: '● On',
  paused: '❙❙ Paused',
  silent: '✕ Takes no messages',
}
const kinds = computed(() => props.webhook.kinds.map((kind) => OCCURRENCE_WORDS[kind].toLowerCase()).join(', '))

const turn = (isOn: boolean) =>
  request(async () => {
    const { address, kinds: wanted } = props.webhook
    await api('changeWebhook', { ...place.value, body: { address, kinds: wanted, isOn } })
    emit('changed')
  })
const test = () =>
  request(async () => {
    await api('testWebhook', place.value)
    isOpen.value = true
    notices.show('The test is sent within seconds.')
    await log.value?.reload()
  })
const draw = () => request(async () => emit('drawn', await api('drawWebhookSecret', place.value)))
const remove = () =>
  request(async () => {
    await api('deleteWebhook', place.value)
    emit('changed')
  })
function changed(): void {
  isChanging.value = false
  emit('changed')
}
</script>

<template>
  <li class="flex flex-col gap-2 border-b border-line py-3" data-testid="webhook">
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span class="text-sm font-medium" :class="webhook.state === 'silent' ? 'text-rust' : 'text-ink-soft'">{{
        STATES[webhook.state]
      }}</span>
      <span class="font-semibold break-all">{{ webhook.address }}</span>
    </p>
    <p class="text-sm text-ink-soft">
      Sends: {{ kinds }}.
      {{
        webhook.lastDeliveredAt ? `Taken last: ${formatTime(webhook.lastDeliveredAt, timeZone)}.` : 'Nothing taken yet.'
      }}
    </p>
    <WebhookForm v-if="isChanging" :site-id="siteId" :webhook="webhook" @changed="changed" />
    <div class="flex flex-wrap gap-2">
      <BaseButton kind="quiet" :disabled="isUnderWay" @click="test">Send a test</BaseButton>
      <BaseButton v-if="webhook.state === 'on'" kind="quiet" :disabled="isUnderWay" @click="turn(false)"
        >Pause</BaseButton
      >
      <BaseButton v-else kind="quiet" :disabled="isUnderWay" @click="turn(true)">Resume</BaseButton>
      <BaseButton kind="quiet" @click="isChanging = !isChanging">{{ isChanging ? 'Cancel' : 'Change …' }}</BaseButton>
      <AskFirst
        label="New secret"
        title="Sign with a new secret?"
        text="The program refuses messages until it knows the new one."
        @confirm="draw"
      />
      <AskFirst
        label="Delete"
        :aria-label="`Delete the webhook to ${webhook.address}`"
        title="Delete this webhook?"
        text="Its log goes with it."
        @confirm="remove"
      />
      <BaseButton kind="quiet" :aria-expanded="isOpen" @click="isOpen = !isOpen">Log</BaseButton>
    </div>
    <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
    <DeliveryLog
      v-if="isOpen"
      ref="log"
      :site-id="siteId"
      :webhook-id="webhook.id"
      :time-zone="timeZone"
      @settled="emit('changed')"
    />
  </li>
</template>
