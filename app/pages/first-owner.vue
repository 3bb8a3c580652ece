<script setup lang="ts">
import { useForm } from 'vee-validate'
import { LEAST_PASSWORD, ownerSchema } from '~~/shared/accounts/account'

definePageMeta({ layout: 'door' })
useHead({ title: 'Create the owner · Vetch' })
const api = useApi()
const account = useAccountStore()
const problem = ref('')
const { handleSubmit, defineField, errors, isSubmitting } = useForm({
  validationSchema: ownerSchema,
  initialValues: { name: '', email: '', organisation: '', password: '' },
})
const quiet = { validateOnModelUpdate: false }
const [name] = defineField('name', quiet)
const [email] = defineField('email', quiet)
const [organisation] = defineField('organisation', quiet)
const [password] = defineField('password', quiet)

const submit = handleSubmit(async (values) => {
  problem.value = ''
  try {
    account.adopt(await api('createOwner', { body: values }))
    await navigateTo('/sites/new')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
})
</script>

<template>
  <form class="flex flex-col gap-4" novalidate @submit="submit">
    <h1>Create the owner</h1>
    <p class="text-ink-soft">Nobody has an account yet. The owner adds sites and decides who may do what.</p>
    <TextField v-model="name" label="Your name" autocomplete="name" :error="errors.name" />
    <TextField v-model="organisation" label="Organization" autocomplete="organization" :error="errors.organisation" />
    <TextField v-model="email" label="E-mail address" type="email" autocomplete="username" :error="errors.email" />
    <TextField
      v-model="password"
      label="Password"
      type="password"
      autocomplete="new-password"
      :hint="`At least ${LEAST_PASSWORD} characters.`"
      :error="errors.password"
    />
    <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
    <BaseButton kind="main" type="submit" :disabled="isSubmitting">Create the owner</BaseButton>
  </form>
</template>
