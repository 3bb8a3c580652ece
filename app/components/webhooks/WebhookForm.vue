<script setup lang="ts">
import type { NewWebhookView, WebhookView } from '~~/shared/webhooks/replies'
import { OCCURRENCE_WORDS, WEBHOOK_KINDS, type WebhookKind } from '~~/core/notifications/occurrence'

/** Where messages go, and of what: of a new webhook, or of one that is there. */
const props = defineProps<{ siteId: number; webhook?: WebhookView }>()
const emit = defineEmits<{ made: [webhook: NewWebhookView]; changed: [] }>()
const api = useApi()
const CHOICES = WEBHOOK_KINDS.map((kind) => ({ kind, label: OCCURRENCE_WORDS[kind] }))
const address = ref(props.webhook?.address ?? '')
const kinds = ref<WebhookKind[]>([...(props.webhook?.kinds ?? WEBHOOK_KINDS)])
const errors = ref<Record<string, string>>({})
const isSaving = ref(false)

async function save(): Promise<void> {
  errors.value = {}
  isSaving.value = true
  const body = { address: address.value, kinds: kinds.value }
  try {
    if (props.webhook) {
      const isOn = props.webhook.state === 'on'
      await api('changeWebhook', { site: props.siteId, webhook: props.webhook.id, body: { ...body, isOn } })
      emit('changed')
    } else {
      emit('made', await api('createWebhook', { site: props.siteId, body }))
      address.value = ''
    }
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = Object.keys(error.fields).length > 0 ? error.fields : { address: error.message }
  } finally {
    isSaving.value = false
  }
}
</script>

<template>
  <form class="flex max-w-2xl flex-col items-start gap-3" novalidate @submit.prevent="save">
    <TextField
      v-model="address"
      class="w-full"
      label="Address"
      placeholder="https://hooks.example.test/vetch"
      autocomplete="off"
      :error="errors.address"
    />
    <fieldset>
      <legend class="mb-1 text-sm font-medium">What is sent</legend>
      <div class="flex flex-wrap gap-x-5 gap-y-1">
        <label v-for="{ kind, label } in CHOICES" :key="kind" class="flex items-center gap-2">
          <input v-model="kinds" type="checkbox" :value="kind" />{{ label }}
        </label>
      </div>
      <p v-if="errors.kinds" class="mt-1 text-sm text-rust" role="alert">{{ errors.kinds }}</p>
    </fieldset>
    <BaseButton type="submit" :disabled="isSaving">{{ webhook ? 'Save' : 'Create a webhook' }}</BaseButton>
  </form>
</template>
