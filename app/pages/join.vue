<script setup lang="ts">
import { LEAST_PASSWORD } from '~~/shared/accounts/account'

/** Where the link of an invitation leads. */
definePageMeta({ layout: 'door' })
useHead({ title: 'Join · Vetch' })
const api = useApi()
const account = useAccountStore()
const key = useRoute().hash.slice(1)
const { value: invitation, problem, reload } = useLoaded(() => api('readInvitation', { body: { key } }))
const draft = reactive({ name: '', password: '' })
const errors = ref<Record<string, string>>({})
const refusal = ref('')
const isSending = ref(false)

async function submit(): Promise<void> {
  errors.value = {}
  refusal.value = ''
  isSending.value = true
  try {
    account.adopt(await api('acceptInvitation', { body: { key, ...draft } }))
    await navigateTo('/')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    if (Object.keys(error.fields).length === 0) refusal.value = error.message
  } finally {
    isSending.value = false
  }
}
</script>

<template>
  <ProblemNote v-if="problem" :text="problem" @retry="reload" />
  <LoadingNote v-else-if="!invitation" />
  <form v-else class="flex flex-col gap-4" novalidate @submit.prevent="submit">
    <h1>Join {{ invitation.organisation }}</h1>
    <p>
      You are invited as {{ invitation.role }}, with the address {{ invitation.email }}.
      <template v-if="invitation.hasAccount">It has an account here: type its password.</template>
    </p>
    <TextField
      v-if="!invitation.hasAccount"
      v-model="draft.name"
      label="Your name"
      autocomplete="name"
      :error="errors.name"
    />
    <TextField
      v-model="draft.password"
      label="Password"
      type="password"
      :autocomplete="invitation.hasAccount ? 'current-password' : 'new-password'"
      :hint="invitation.hasAccount ? undefined : `At least ${LEAST_PASSWORD} characters.`"
      :error="errors.password"
    />
    <p v-if="refusal" class="text-rust" role="alert">{{ refusal }}</p>
    <BaseButton kind="main" type="submit" :disabled="isSending">Join</BaseButton>
  </form>
</template>
