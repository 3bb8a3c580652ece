<script setup lang="ts">
import { useForm } from 'vee-validate'
import { signInSchema } from '~~/shared/accounts/account'
import { isOwnPath } from '~~/shared/delivery/ownPath'

definePageMeta({ layout: 'door' })
useHead({ title: 'Sign in · Vetch' })
const api = useApi()
const account = useAccountStore()
const route = useRoute()
const problem = ref('')
const { handleSubmit, defineField, errors, isSubmitting } = useForm({
  validationSchema: signInSchema,
  initialValues: { email: '', password: '' },
})
const quiet = { validateOnModelUpdate: false }
const [email] = defineField('email', quiet)
const [password] = defineField('password', quiet)

const submit = handleSubmit(async (values) => {
  problem.value = ''
  try {
    account.adopt(await api('signIn', { body: values }))
    const next = String(route.query.next ?? '/')
    await navigateTo(isOwnPath(next) ? next : '/')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
})
</script>

<template>
  <form class="flex flex-col gap-4" novalidate @submit="submit">
    <h1>Sign in</h1>
    <TextField v-model="email" label="E-mail address" type="email" autocomplete="username" :error="errors.email" />
    <TextField
      v-model="password"
      label="Password"
      type="password"
      autocomplete="current-password"
      :error="errors.password"
    />
    <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
    <BaseButton kind="main" type="submit" :disabled="isSubmitting">Sign in</BaseButton>
    <NuxtLink to="/forgot" class="text-accent underline">Forgotten password</NuxtLink>
  </form>
</template>
