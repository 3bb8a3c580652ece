<script setup lang="ts">
import type { NewWebhookView } from '~~/shared/webhooks/replies'

/** The webhooks of a site, and a form for one more. */
const props = defineProps<{ siteId: number; timeZone: string }>()
const api = useApi()
const { value: webhooks, problem, reload } = useLoaded(() => api('listWebhooks', { site: props.siteId }))
/** Its secret is shown this once. */
const made = shallowRef<NewWebhookView | null>(null)

async function showSecret(webhook: NewWebhookView): Promise<void> {
  made.value = webhook
  await reload()
}
</script>

<template>
  <div class="flex flex-col gap-6">
    <p class="max-w-[72ch]">
      Each message is JSON, sent by POST. The header <code class="font-mono text-sm">vetch-signature</code> is its
      HMAC-SHA256. What is not taken is tried again for 16 hours.
    </p>
    <div v-if="made" class="border-l-4 border-pine py-1 pl-3" role="status">
      <p>The secret of {{ made.address }}. Copy it now: it is not shown again.</p>
      <CopiedText label="Secret" :text="made.secret" />
    </div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!webhooks" />
    <EmptyNote v-else-if="webhooks.length === 0" text="No program is told of anything." />
    <ul v-else class="border-t border-line">
      <WebhookRow
        v-for="webhook in webhooks"
        :key="webhook.id"
        :webhook="webhook"
        :site-id="siteId"
        :time-zone="timeZone"
        @changed="reload"
        @drawn="showSecret"
      />
    </ul>
    <section aria-labelledby="new-webhook">
      <h2 id="new-webhook" class="mb-3">New webhook</h2>
      <WebhookForm :site-id="siteId" @made="showSecret" />
    </section>
  </div>
</template>
