<script setup lang="ts">
import type { SiteView } from '~~/shared/site'

const props = defineProps<{ site: SiteView; disabled: boolean }>()
const emit = defineEmits<{ changed: [site: SiteView] }>()
const api = useApi()
const notices = useNoticesStore()
const draft = reactive({ name: props.site.name, timeZone: props.site.timeZone, asksConsent: props.site.asksConsent })
const errors = ref<Record<string, string>>({})
const zones = Intl.supportedValuesOf('timeZone').concat('UTC')

async function save(): Promise<void> {
  errors.value = {}
  try {
    emit('changed', await api<SiteView>('PATCH', `/api/sites/${props.site.id}`, draft))
    notices.show('Saved.')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    notices.show(error.message, { tone: 'problem' })
  }
}
</script>

<template>
  <section aria-labelledby="settings">
    <h2 id="settings" class="mb-2">Settings</h2>
    <form class="flex max-w-lg flex-col gap-4" novalidate @submit.prevent="save">
      <TextField v-model="draft.name" label="Name" :disabled="disabled" :error="errors.name" />
      <LabeledField
        v-slot="{ id }"
        label="Reporting time zone"
        hint="Days in reports begin at midnight there."
        :error="errors.timeZone"
      >
        <select :id="id" v-model="draft.timeZone" class="field" :disabled="disabled">
          <option v-for="zone in zones" :key="zone">{{ zone }}</option>
        </select>
      </LabeledField>
      <label class="flex items-start gap-2">
        <input v-model="draft.asksConsent" type="checkbox" class="mt-1 accent-accent" :disabled="disabled" />
        <span
          >The site asks visitors for consent first
          <span class="block text-sm text-ink-soft"
            >Nothing is stored, sent or changed before the page calls
            <code class="font-mono text-xs">(window.vetch ||= []).push({ consent: true })</code>. Visitors whose browser
            sends Global Privacy Control are never counted.</span
          ></span
        >
      </label>
      <div v-if="!disabled"><BaseButton type="submit">Save</BaseButton></div>
      <p v-else class="text-sm text-ink-soft">Only owners change these.</p>
    </form>
  </section>
</template>
