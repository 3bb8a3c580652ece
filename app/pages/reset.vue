<script setup lang="ts">
import { LEAST_PASSWORD } from '~~/shared/accounts/account'

definePageMeta({ layout: 'door' })
useHead({ title: 'New password · Vetch' })
const api = useApi()
const notices = useNoticesStore()
/** The secret stands behind the #: it is sent to nobody with the address. */
const key = useRoute().hash.slice(1)
const password = ref('')
const errors = ref<Record<string, string>>({})
const problem = ref('')
const isSending = ref(false)

async function submit(): Promise<void> {
  errors.value = {}
  problem.value = ''
  isSending.value = true
  try {
    await api('resetPassword', { body: { key, password: password.value } })
    notices.show('Your password is changed. Sign in with it.')
    useAccountStore().forget()
    await navigateTo('/sign-in')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    if (!error.fields.password) problem.value = error.message
  } finally {
    isSending.value = false
  }
}
</script>

<template>
  <form class="flex flex-col gap-4" novalidate @submit.prevent="submit">
    <h1>Choose a new password</h1>
    <TextField
      v-model="password"
      label="New password"
      type="password"
      autocomplete="new-password"
      :hint="`At least ${LEAST_PASSWORD} characters. You are signed out everywhere.`"
      :error="errors.password"
    />
    <p v-if="problem" class="text-rust" role="alert">
      {{ problem }} <NuxtLink to="/forgot" class="underline">Ask for another link</NuxtLink>
    </p>
    <BaseButton kind="main" type="submit" :disabled="isSending">Change the password</BaseButton>
  </form>
</template>
