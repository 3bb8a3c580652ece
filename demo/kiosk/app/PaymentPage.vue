<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { buyTicket } from './buyTicket'
import { inEuro, party, total } from './party'

const router = useRouter()
const isPaying = ref(false)
const problem = ref('')

async function pay(): Promise<void> {
  isPaying.value = true
  problem.value = ''
  try {
    const { number } = await buyTicket(party)
    await router.push(`/ticket/${number}`)
  } catch {
    problem.value = 'The card reader does not answer. Try again, or ask at the desk.'
  } finally {
    isPaying.value = false
  }
}
</script>

<template>
  <h1>Hold your card to the reader</h1>
  <p class="total">{{ inEuro(total) }}</p>
  <p v-if="problem" class="error" role="alert">{{ problem }}</p>
  <p><button id="pay" type="button" :disabled="isPaying" @click="pay">Pay</button></p>
</template>
