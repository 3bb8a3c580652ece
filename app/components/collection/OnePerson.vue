<script setup lang="ts">
import type { PersonExport } from '~~/shared/visitors/operations'
import { saveFile } from '~/data/saveFile'
import { isProven, personId } from '~~/core/identity/personId'
import { keyedPerson } from '~~/core/identity/provenPerson'

/** What is kept of one person on all their devices: handed out to them, or erased. */
const props = defineProps<{ siteId: number; siteKey: string; personKey: string | null; timeZone: string }>()
const api = useApi()
const notices = useNoticesStore()
const given = ref('')
const found = shallowRef<PersonExport | null>(null)
const chosen = ref<string[]>([])
const isAsking = ref(false)
const isNoneChosen = computed(() => chosen.value.length === 0 && (found.value?.devices.length ?? 0) > 0)
const { problem, isUnderWay, request } = useRequest()

const find = () =>
  request(async () => {
    found.value = null
    const own = String(given.value ?? '').trim()
    if (own === '') {
      problem.value = 'Type the id that your pages give for this person.'
      return
    }
    // The id stays in this browser: only what stands for it is sent.
    found.value = await api('exportPerson', { site: props.siteId, person: personOf(own) })
    chosen.value = found.value.devices.filter(({ otherPersons }) => otherPersons === 0).map(({ visitor }) => visitor)
  })
/** Where proof is asked for, the id is the one that the site's server starts from, such as a customer number. */
const personOf = (own: string) =>
  props.personKey === null || isProven(own) ? personId(props.siteKey, own) : keyedPerson(own, props.personKey)
const save = () =>
  saveFile('person.json', new Blob([JSON.stringify(found.value, null, 2)], { type: 'application/json' }))
const erase = () =>
  request(async () => {
    isAsking.value = false
    const { rows } = await api('erasePerson', {
      site: props.siteId,
      person: found.value!.person,
      body: { visitors: chosen.value },
    })
    notices.show(`Erased ${formatCount(rows)} ${rows === 1 ? 'entry' : 'entries'}.`)
    found.value = null
    given.value = ''
  })
const othersOn = (number: number) =>
  number === 0 ? 'nobody else' : `${formatCount(number)} other ${number === 1 ? 'person' : 'people'}`
</script>

<template>
  <div class="flex max-w-2xl flex-col gap-3">
    <p class="text-sm text-ink-soft">
      {{
        personKey === null
          ? 'Where your pages name a person, type the id that they give.'
          : 'Type the id that your server knows the person by.'
      }}
      It stays in this browser, which sends a hash of it.
    </p>
    <form class="flex flex-wrap items-start gap-3" @submit.prevent="find">
      <TextField v-model="given" class="w-full max-w-sm" label="Id of the person" :error="problem" />
      <BaseButton class="sm:mt-6.5" :disabled="isUnderWay" type="submit">Find</BaseButton>
    </form>
    <div v-if="found" class="flex flex-col gap-3" data-testid="person">
      <p v-if="found.devices.length === 0">Only numbers are kept. Their visits have been deleted.</p>
      <fieldset v-else>
        <legend class="mb-1">Devices to erase with all that was done on them</legend>
        <label v-for="device in found.devices" :key="device.visitor" class="flex gap-2 border-t border-line py-1">
          <input v-model="chosen" type="checkbox" :value="device.visitor" class="mt-1" />
          <span>
            <code class="font-mono text-xs">{{ device.visitor }}</code>, {{ formatCount(device.views) }}
            {{ device.views === 1 ? 'page' : 'pages' }}, last seen {{ formatTime(device.lastSeenAt, timeZone) }}, used
            by {{ othersOn(device.otherPersons) }}
          </span>
        </label>
      </fieldset>
      <p v-if="isNoneChosen" class="text-sm text-ink-soft">Choose the devices to erase.</p>
      <div class="flex gap-3">
        <BaseButton :disabled="isUnderWay" @click="save">Export</BaseButton>
        <BaseButton :disabled="isUnderWay || isNoneChosen" @click="isAsking = true">Erase …</BaseButton>
      </div>
    </div>
    <PlainDialog v-model:open="isAsking" title="Erase this person?">
      <p v-if="found && chosen.length < found.devices.length">
        The chosen devices are erased. The person stays, with what they did on the others.
      </p>
      <p v-else>The person and their devices are erased, also from the numbers of experiments.</p>
      <p>This cannot be undone.</p>
      <template #actions>
        <BaseButton kind="quiet" @click="isAsking = false">Cancel</BaseButton>
        <BaseButton kind="main" @click="erase">Erase</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
