<script setup lang="ts">
import { useForm } from 'vee-validate'
import { newExperimentSchema } from '~~/shared/experiments/experimentList'

import type { Purpose } from '~~/core/sheet/content'
import { PURPOSE_WORDS } from '~/sheets/purposeWords'

const props = withDefaults(defineProps<{ siteId: number; purpose?: Purpose }>(), { purpose: 'test' })
const open = defineModel<boolean>('open', { required: true })
const api = useApi()
const problem = ref('')
const { handleSubmit, defineField, errors, isSubmitting } = useForm({
  validationSchema: newExperimentSchema,
  initialValues: { name: '', purpose: props.purpose },
})
const [name] = defineField('name', { validateOnModelUpdate: false })

const submit = handleSubmit(async (values) => {
  problem.value = ''
  try {
    const sheet = await api('createExperiment', { site: props.siteId, body: values })
    await navigateTo(`/sites/${props.siteId}/experiments/${sheet.id}`)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  }
})
</script>

<template>
  <PlainDialog v-model:open="open" :title="`New ${PURPOSE_WORDS[purpose].thing}`">
    <form id="new-experiment" novalidate @submit="submit">
      <TextField
        v-model="name"
        label="Name"
        :placeholder="purpose === 'serve' ? 'Island names for returning visitors' : 'Headline names the islands'"
        :hint="purpose === 'serve' ? 'What is served, in a few words.' : 'What is tried, in a few words.'"
        :error="errors.name"
      />
      <p v-if="problem" class="mt-2 text-rust" role="alert">{{ problem }}</p>
    </form>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
      <BaseButton kind="main" type="submit" form="new-experiment" :disabled="isSubmitting">Create</BaseButton>
    </template>
  </PlainDialog>
</template>
