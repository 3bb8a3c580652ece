<script setup lang="ts">
import type { Group } from '~~/core/targeting/condition'

/** Keeps conditions under a name, to be used again. */
const props = defineProps<{ siteId: number; conditions: Group }>()
const emit = defineEmits<{ saved: [id: number] }>()
const open = defineModel<boolean>('open', { required: true })
const api = useApi()
const { errors, isSaving, save } = useSaving()
const name = ref('')
const keep = () =>
  save(async () => {
    const body = { name: name.value, conditions: props.conditions }
    const made = await api('createAudience', { site: props.siteId, body })
    open.value = false
    emit('saved', made.id)
  })
</script>

<template>
  <PlainDialog v-model:open="open" title="Save the audience">
    <form id="save-audience" novalidate @submit.prevent="keep">
      <TextField
        v-model="name"
        label="Name"
        placeholder="Phones from two countries"
        hint="This sheet will use the saved audience. Drafts follow its changes."
        :error="errors.name ?? errors.conditions"
      />
    </form>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
      <BaseButton kind="main" type="submit" form="save-audience" :disabled="isSaving">Save it</BaseButton>
    </template>
  </PlainDialog>
</template>
