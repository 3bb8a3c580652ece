<script setup lang="ts">
import type { SavedAudienceView } from '~~/shared/audiences/replies'
import { conditionInWords } from '~~/core/targeting/conditionWords'
import type { Group } from '~~/core/targeting/condition'
import { newTest } from '~/audience/conditionDrafts'

/** One saved audience, or a new one: its conditions, its size, who uses it, and what it asked before. */
const props = defineProps<{ siteId: number; audience: SavedAudienceView | null; mayEdit: boolean; timeZone: string }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const api = useApi()
const notices = useNoticesStore()
const { errors, isSaving, save } = useSaving()
const isOpen = computed({ get: () => true, set: () => emit('close') })
const name = ref(props.audience?.name ?? '')
const conditions = shallowRef<Group>(props.audience?.conditions ?? { join: 'all', of: [newTest('device')] })
const { name: names } = useConditionNames(props.siteId, conditions)
const { value: versions } = useLoaded(async () =>
  props.audience ? api('listAudienceVersions', { site: props.siteId, audience: props.audience.id }) : [],
)
const live = computed(() =>
  (props.audience?.uses ?? []).filter((use) => use.kind === 'experiment' && ['running', 'paused'].includes(use.state)),
)
/** Messages of the conditions, as their fields know them. */
const ofConditions = computed(() =>
  Object.fromEntries(
    Object.entries(errors.value)
      .filter(([path]) => path.startsWith('conditions.'))
      .map(([path, message]) => [path.slice('conditions.'.length), message]),
  ),
)
const keep = () =>
  save(async () => {
    const body = { name: name.value, conditions: conditions.value }
    if (props.audience) await api('updateAudience', { site: props.siteId, audience: props.audience.id, body })
    else await api('createAudience', { site: props.siteId, body })
    notices.show('Saved.')
    emit('changed')
  })
const remove = () =>
  save(async () => {
    const { id, name: deleted, conditions: asked } = props.audience!
    await api('deleteAudience', { site: props.siteId, audience: id })
    notices.show(`Deleted ${deleted}.`, {
      undo: async () => {
        await api('createAudience', { site: props.siteId, body: { name: deleted, conditions: asked } })
        emit('changed')
      },
    })
    emit('changed')
  })
</script>

<template>
  <SideDrawer v-model:open="isOpen" is-wide :title="audience ? audience.name : 'New audience'">
    <form class="flex flex-col gap-5" novalidate @submit.prevent="keep">
      <TextField v-model="name" label="Name" placeholder="Phones from two countries" :error="errors.name" />
      <div class="flex flex-col gap-3">
        <p>Visitors: {{ conditionInWords(conditions, names) }}.</p>
        <ConditionGroup
          v-if="mayEdit"
          is-outermost
          :site-id="siteId"
          :group="conditions"
          :errors="ofConditions"
          @change="conditions = $event"
        />
        <p v-if="errors.conditions" class="text-sm text-rust" role="alert">{{ errors.conditions }}</p>
        <p v-for="problem in audience?.problems ?? []" :key="problem" class="text-sm text-rust">{{ problem }}</p>
      </div>
      <section aria-labelledby="audience-size">
        <h3 id="audience-size" class="mb-1 font-semibold">Size</h3>
        <AudienceSizeNote :site-id="siteId" :conditions="conditions" />
      </section>
      <section v-if="audience" aria-labelledby="audience-uses">
        <h3 id="audience-uses" class="mb-1 font-semibold">Used by</h3>
        <p v-if="audience.uses.length === 0" class="text-sm text-ink-soft">Nothing yet.</p>
        <ul class="flex flex-col gap-1 text-sm">
          <li v-for="use in audience.uses" :key="`${use.kind} ${use.id}`" class="flex flex-wrap items-baseline gap-2">
            <template v-if="use.kind === 'experiment'">
              <NuxtLink :to="`/sites/${siteId}/experiments/${use.id}`" class="text-accent underline">{{
                use.name
              }}</NuxtLink>
              <StateBadge :state="use.state" />
              <span v-if="use.version !== null" class="text-ink-soft">version {{ use.version }}</span>
            </template>
            <NuxtLink
              v-else-if="use.kind === 'survey'"
              :to="`/sites/${siteId}/evidence/surveys/${use.id}`"
              class="text-accent underline"
              >{{ use.name }}</NuxtLink
            >
            <span v-else>the audience {{ use.name }}</span>
          </li>
        </ul>
        <p v-if="live.length > 0" class="mt-1 text-sm text-ink-soft">
          Running experiments keep their version. Drafts follow your changes.
        </p>
      </section>
      <section v-if="(versions ?? []).length > 1" aria-labelledby="audience-versions">
        <h3 id="audience-versions" class="mb-1 font-semibold">Versions</h3>
        <ul class="flex flex-col gap-1 text-sm">
          <li v-for="each in versions ?? []" :key="each.version">
            {{ each.version }}: {{ conditionInWords(each.conditions, names) }}
            <span class="text-ink-soft">{{ formatDate(each.madeAt, timeZone) }}, {{ each.madeBy ?? 'a program' }}</span>
            <BaseButton
              v-if="mayEdit && each.version !== audience?.version"
              kind="quiet"
              @click="conditions = each.conditions"
              >Restore</BaseButton
            >
          </li>
        </ul>
      </section>
      <div v-if="mayEdit" class="flex gap-2">
        <BaseButton kind="main" type="submit" :disabled="isSaving">{{ audience ? 'Save' : 'Save it' }}</BaseButton>
        <BaseButton v-if="audience" kind="quiet" :disabled="isSaving" @click="remove">Delete</BaseButton>
      </div>
    </form>
  </SideDrawer>
</template>
