<script setup lang="ts">
import type { PersonKeyView } from '~~/shared/visitors/operations'

/** Whether pages must prove who somebody is, and the key by which the site's own server does so. */
const props = defineProps<{ siteId: number; view: PersonKeyView; timeZone: string }>()
const emit = defineEmits<{ changed: [view: PersonKeyView] }>()
const api = useApi()
const notices = useNoticesStore()
const { problem, isUnderWay, request } = useRequest()
const asking = ref<'draw' | 'drop' | null>(null)
const isShown = ref(false)

const draw = () =>
  request(async () => {
    asking.value = null
    emit('changed', await api('drawPersonKey', { site: props.siteId }))
    isShown.value = true
  })
const drop = () =>
  request(async () => {
    asking.value = null
    emit('changed', await api('dropPersonKey', { site: props.siteId }))
    isShown.value = false
  })
async function copy(): Promise<void> {
  try {
    await navigator.clipboard.writeText(props.view.key!)
    notices.show('The key is copied.')
  } catch {
    notices.show('The browser does not let Vetch copy. Copy the key by hand.', { tone: 'problem' })
  }
}

const SAMPLE = `// On your server, in Node.js. The key never goes to a page.
import { createHmac } from 'node:crypto'
const digits = (text) => createHmac('sha256', PERSON_KEY).update(text).digest('hex').slice(0, 32)
const person = digits('person.' + customerNumber)
const given = person + '.' + digits('proof.' + person)

// On the page.
;(window.vetch ||= []).push({ person: given })`
</script>

<template>
  <div class="flex max-w-2xl flex-col gap-3">
    <p v-if="view.key === null" class="text-sm text-ink-soft">
      Whoever knows the id of a person can claim to be that person. With proof, only your server can name somebody.
    </p>
    <template v-else>
      <p class="text-sm text-ink-soft">
        Proof is asked for since {{ formatTime(view.since!, timeZone) }}. Persons without proof count as visitors only.
      </p>
      <div class="flex flex-wrap items-center gap-3">
        <code v-if="isShown" class="font-mono text-xs break-all" data-testid="person-key">{{ view.key }}</code>
        <BaseButton v-if="isShown" kind="quiet" @click="copy">Copy</BaseButton>
        <BaseButton kind="quiet" @click="isShown = !isShown">{{
          isShown ? 'Hide the key' : 'Show the key'
        }}</BaseButton>
      </div>
      <details>
        <summary class="text-sm text-ink-soft">How your server names a person</summary>
        <pre
          class="mt-2 overflow-auto rounded border border-line p-3 font-mono text-xs whitespace-pre-wrap"
          tabindex="0"
          aria-label="Code for your server and pages"
          >{{ SAMPLE }}</pre>
      </details>
    </template>
    <p v-if="problem" role="alert" class="text-sm text-rust">{{ problem }}</p>
    <div class="flex gap-3">
      <BaseButton :disabled="isUnderWay" @click="asking = 'draw'">{{
        view.key === null ? 'Ask for proof …' : 'New key …'
      }}</BaseButton>
      <BaseButton v-if="view.key !== null" :disabled="isUnderWay" @click="asking = 'drop'"
        >Stop asking for proof …</BaseButton
      >
    </div>
    <PlainDialog
      :open="asking === 'draw'"
      :title="view.key === null ? 'Ask for proof of persons?' : 'Make a new key?'"
      @update:open="asking = null"
    >
      <p>From then on, pages must give ids that your server has made with the key.</p>
      <p>Persons get new ids and count anew. First erase whoever must be erased: old ids are not found afterward.</p>
      <template #actions>
        <BaseButton @click="asking = null">Cancel</BaseButton>
        <BaseButton kind="main" :disabled="isUnderWay" @click="draw">{{
          view.key === null ? 'Ask for proof' : 'Make a new key'
        }}</BaseButton>
      </template>
    </PlainDialog>
    <PlainDialog :open="asking === 'drop'" title="Stop asking for proof?" @update:open="asking = null">
      <p>Anybody who knows an id can then claim to be that person again. The key is deleted.</p>
      <template #actions>
        <BaseButton @click="asking = null">Cancel</BaseButton>
        <BaseButton kind="main" :disabled="isUnderWay" @click="drop">Stop asking for proof</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
