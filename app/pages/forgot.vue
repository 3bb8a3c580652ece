<script setup lang="ts">
import { useForm } from 'vee-validate'
import { resetRequestSchema } from '~~/shared/accounts/account'

definePageMeta({ layout: 'door' })
useHead({ title: 'Forgotten password · Vetch' })
const api = useApi()
const problem = ref('')
const sentTo = ref<string | null>(null)
const { handleSubmit, defineField, errors, isSubmitting } = useForm({
  validationSchema: resetRequestSchema,
  initialValues: { email: '' },
})
const [email] = defineField('email', { validateOnModelUpdate: false })

const submit = handleSubmit(async (values) => {
  problem.value = ''
  try {
    await api('requestReset', { body: values })
    sentTo.value = values.email
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
})
</script>

<template>
  <div v-if="sentTo" class="flex flex-col gap-4" role="status">
    <h1>Look into your mail</h1>
    <p>If {{ sentTo }} has an account here, a letter with a link is on its way. The link works for one hour.</p>
    <NuxtLink to="/sign-in" class="text-accent underline">Back to the sign-in</NuxtLink>
  </div>
  <form v-else class="flex flex-col gap-4" novalidate @submit="submit">
    <h1>Forgotten password</h1>
    <TextField v-model="email" label="E-mail address" type="email" autocomplete="username" :error="errors.email" />
    <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
    <BaseButton kind="main" type="submit" :disabled="isSubmitting">Send me a link</BaseButton>
    <NuxtLink to="/sign-in" class="text-accent underline">Back to the sign-in</NuxtLink>
  </form>
</template>
