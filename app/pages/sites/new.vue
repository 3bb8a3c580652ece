<script setup lang="ts">
import { useForm } from 'vee-validate'
import { newSiteSchema } from '~~/shared/sites/site'

useHead({ title: 'Add a site · Vetch' })
const api = useApi()
const account = useAccountStore()
const problem = ref('')
const { handleSubmit, defineField, errors, setErrors, isSubmitting } = useForm({
  validationSchema: newSiteSchema,
  initialValues: { address: '', name: '', timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone },
})
const quiet = { validateOnModelUpdate: false }
const [address] = defineField('address', quiet)
const [name] = defineField('name', quiet)

const submit = handleSubmit(async (values) => {
  problem.value = ''
  try {
    const site = await api('createSite', { body: values })
    await account.reload()
    await navigateTo(`/sites/${site.id}/setup/site`)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    setErrors(error.fields)
    problem.value = Object.keys(error.fields).length > 0 ? '' : error.message
  }
})
</script>

<template>
  <div class="max-w-xl p-6 lg:p-8">
    <h1 class="mb-4">Add a site</h1>
    <form v-if="account.view?.mayAddSites" class="flex flex-col gap-4" novalidate @submit="submit">
      <TextField v-model="address" label="Address" placeholder="https://www.example.test" :error="errors.address" />
      <TextField v-model="name" label="Name" placeholder="What your team calls it" :error="errors.name" />
      <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
      <div><BaseButton kind="main" type="submit" :disabled="isSubmitting">Add the site</BaseButton></div>
    </form>
    <p v-else>You are not a member of any site yet. Ask an owner of your organization to add you.</p>
  </div>
</template>
