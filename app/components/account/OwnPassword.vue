<script setup lang="ts">
import { LEAST_PASSWORD } from '~~/shared/accounts/account'

const emit = defineEmits<{ changed: [] }>()
const api = useApi()
const notices = useNoticesStore()
const draft = reactive({ current: '', password: '' })
const errors = ref<Record<string, string>>({})

async function change(): Promise<void> {
  errors.value = {}
  try {
    await api('changePassword', { body: draft })
    Object.assign(draft, { current: '', password: '' })
    notices.show('Changed. You are signed out everywhere else.')
    emit('changed')
  } catch (problem) {
    if (!(problem instanceof ApiProblem)) throw problem
    errors.value = problem.fields
    if (Object.keys(problem.fields).length === 0) notices.show(problem.message, { tone: 'problem' })
  }
}
</script>

<template>
  <form class="flex max-w-md flex-col items-start gap-3" novalidate @submit.prevent="change">
    <TextField
      v-model="draft.current"
      class="w-full"
      label="Current password"
      type="password"
      autocomplete="current-password"
      :error="errors.current"
    />
    <TextField
      v-model="draft.password"
      class="w-full"
      label="New password"
      type="password"
      :hint="`At least ${LEAST_PASSWORD} characters.`"
      autocomplete="new-password"
      :error="errors.password"
    />
    <BaseButton type="submit">Change the password</BaseButton>
  </form>
</template>
