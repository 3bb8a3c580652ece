<script setup lang="ts">
import { picturesRequestSchema } from '~~/shared/pictures/variantPicture'

/** In which language, and a button to take pictures with. */
const props = defineProps<{ isAny: boolean; isBusy: boolean }>()
const emit = defineEmits<{ take: [asked: { language: string; isAnew: boolean }] }>()
const language = ref('en')
const wrong = ref('')

function take(): void {
  const asked = { language: language.value.trim(), isAnew: props.isAny }
  try {
    picturesRequestSchema.validateSync(asked)
    wrong.value = ''
    emit('take', asked)
  } catch (error) {
    wrong.value = (error as Error).message
  }
}
</script>

<template>
  <form class="flex flex-wrap items-center gap-2" @submit.prevent="take">
    <label class="flex items-center gap-2 text-sm">
      Language
      <input
        v-model="language"
        class="w-20 rounded border border-line-strong bg-raised px-2 py-1"
        :aria-invalid="wrong !== ''"
        :aria-describedby="wrong ? 'language-problem' : undefined"
      />
    </label>
    <BaseButton type="submit" :disabled="isBusy">{{ isAny ? 'Retake' : 'Take pictures' }}</BaseButton>
    <span v-if="wrong" id="language-problem" role="alert" class="text-sm text-rust">{{ wrong }}</span>
  </form>
</template>
