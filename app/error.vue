<script setup lang="ts">
import type { NuxtError } from '#app'

/** What is shown in the place of a page that is not there, or that broke. */
const props = defineProps<{ error: NuxtError }>()
const isMissing = computed(() => props.error.statusCode === 404)
useHead({ title: computed(() => (isMissing.value ? 'Not found · Vetch' : 'Something broke · Vetch')) })
const back = () => clearError({ redirect: '/' })
</script>

<template>
  <main class="mx-auto flex min-h-dvh max-w-[60ch] flex-col justify-center gap-3 p-6">
    <h1>{{ isMissing ? 'There is nothing at this address.' : 'Something broke on this page.' }}</h1>
    <p>
      {{
        isMissing
          ? 'The link may be old or mistyped, or you may not be let in any more.'
          : 'What you typed is kept on this device. Reload the page; if it breaks again, tell whoever runs Vetch when it happened.'
      }}
    </p>
    <p class="flex gap-2">
      <BaseButton kind="main" @click="back">Go to the start</BaseButton>
    </p>
  </main>
</template>
