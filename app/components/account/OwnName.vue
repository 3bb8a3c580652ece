<script setup lang="ts">
const api = useApi()
const account = useAccountStore()
const notices = useNoticesStore()
const name = ref(account.view?.person?.name ?? '')
const error = ref<string | undefined>()

async function save(): Promise<void> {
  error.value = undefined
  try {
    account.adopt(await api('updateProfile', { body: { name: name.value } }))
    notices.show('Saved.')
  } catch (problem) {
    if (!(problem instanceof ApiProblem)) throw problem
    error.value = problem.fields.name
    if (!error.value) notices.show(problem.message, { tone: 'problem' })
  }
}
</script>

<template>
  <form class="flex max-w-md flex-col items-start gap-3" novalidate @submit.prevent="save">
    <TextField
      v-model="name"
      class="w-full"
      label="Name"
      hint="Others see it in the change log and beside decisions."
      autocomplete="name"
      :error="error"
    />
    <BaseButton type="submit">Save the name</BaseButton>
  </form>
</template>
