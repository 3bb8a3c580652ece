<script setup lang="ts">
import type { Role } from '~~/shared/accounts/account'

defineProps<{ label: string; isBare?: boolean }>()
const role = defineModel<Role>({ required: true })
const CHOICES: readonly { value: Role; label: string }[] = [
  { value: 'viewer', label: 'viewer' },
  { value: 'editor', label: 'editor' },
  { value: 'owner', label: 'owner' },
]
</script>

<template>
  <ChoiceField v-model="role" :label="label" :choices="CHOICES" :is-bare="isBare" />
</template>
