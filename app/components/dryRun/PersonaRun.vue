<script setup lang="ts">
import type { DryRunView, PersonaView } from '~~/shared/audiences/replies'
import type { Persona } from '~~/core/targeting/persona'
import { draftOfPersona, personaOfDraft } from '~/data/personaDraft'

/** A made-up visitor on a page: chosen from the saved ones or typed, and what they would get. */
const props = defineProps<{ siteId: number; mayEdit: boolean }>()
const api = useApi()
const notices = useNoticesStore()
const { value: personas, reload } = useLoaded(() => api('listPersonas', { site: props.siteId }))
const { value: audiences } = useLoaded(() => api('listAudiences', { site: props.siteId }))
const names = computed(() => ({
  audiences: Object.fromEntries((audiences.value ?? []).map(({ id, name }) => [id, name])),
}))
const chosen = useQueryChoice('persona', () => ['', ...(personas.value ?? []).map(({ id }) => String(id))])
const saved = computed<PersonaView | null>(() => personas.value?.find(({ id }) => String(id) === chosen.value) ?? null)
const draft = ref(draftOfPersona({ device: 'phone' }))
const name = ref('')
const address = ref('/')
const view = shallowRef<DryRunView | null>(null)
const { errors, isSaving, save } = useSaving()
/** Messages of the persona's own fields. */
const ofFacts = computed(() =>
  Object.fromEntries(
    Object.entries(errors.value).map(([path, message]) => [path.replace(/^facts\./, '').split(/[.[]/)[0]!, message]),
  ),
)
watch(
  saved,
  (persona) => {
    if (!persona) return
    draft.value = draftOfPersona(persona.facts)
    name.value = persona.name
    void run()
  },
  { immediate: true },
)
const choices = computed(() => [
  { value: '', label: 'somebody new' },
  ...(personas.value ?? []).map((each) => ({ value: String(each.id), label: each.name })),
])

function typed(): Persona | null {
  try {
    return personaOfDraft(draft.value)
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    notices.show(error.message, { tone: 'problem' })
    return null
  }
}
async function run(): Promise<void> {
  const facts = typed()
  if (!facts) return
  await save(async () => {
    const body = { facts, address: address.value, visitor: saved.value?.visitor }
    view.value = await api('dryRun', { site: props.siteId, body })
  })
}
async function keep(): Promise<void> {
  const facts = typed()
  if (!facts) return
  await save(async () => {
    const body = { name: name.value, facts }
    const kept = saved.value
      ? await api('updatePersona', { site: props.siteId, persona: saved.value.id, body })
      : await api('createPersona', { site: props.siteId, body })
    await reload()
    chosen.value = String(kept.id)
    notices.show('Saved.')
  })
}
const remove = () =>
  save(async () => {
    const { id, name: deleted, facts } = saved.value!
    await api('deletePersona', { site: props.siteId, persona: id })
    notices.show(`Deleted ${deleted}.`, {
      undo: async () => {
        await api('createPersona', { site: props.siteId, body: { name: deleted, facts } })
        await reload()
      },
    })
    chosen.value = ''
    await reload()
  })
</script>

<template>
  <div class="grid gap-8 lg:grid-cols-[22rem_1fr]">
    <form class="flex flex-col gap-4" novalidate aria-label="Made-up visitor" @submit.prevent="run">
      <ChoiceField v-model="chosen" label="Test persona" :choices="choices" />
      <TextField v-model="address" label="On the page" placeholder="/book" :error="errors.address" />
      <BaseButton class="self-start" kind="main" type="submit" :disabled="isSaving">Run it</BaseButton>
      <details :open="!saved">
        <summary class="mb-3 cursor-pointer font-medium">Who it is</summary>
        <PersonaFields v-model="draft" :errors="ofFacts" />
        <div v-if="mayEdit" class="mt-4 flex flex-wrap items-end gap-2">
          <TextField v-model="name" class="w-48" label="Name" placeholder="Phone from Cork" :error="errors.name" />
          <BaseButton :disabled="isSaving" @click="keep">{{ saved ? 'Save the changes' : 'Save it' }}</BaseButton>
          <BaseButton v-if="saved" kind="quiet" :disabled="isSaving" @click="remove">Delete</BaseButton>
        </div>
      </details>
    </form>
    <section aria-live="polite">
      <EmptyNote
        v-if="!view"
        text="Choose or type a visitor and a page: what they would get of everything that runs, and of drafts as if they ran, stands here with the reasons."
      />
      <template v-else>
        <p class="mb-2 text-ink-soft break-words">
          On {{ view.address }}, decided as in a browser. Nothing is counted.
        </p>
        <DryRunRows :site-id="siteId" :view="view" :names="names" />
      </template>
    </section>
  </div>
</template>
