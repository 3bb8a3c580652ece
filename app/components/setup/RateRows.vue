<script setup lang="ts">
interface Rate {
  currency: string
  from: string
  rate: string
}

/** What other currencies are worth, each from a day on. */
const props = defineProps<{ currency: string; errors: Record<string, string> }>()
const rates = defineModel<Rate[]>({ required: true })
const add = () =>
  (rates.value = [...rates.value, { currency: '', from: new Date().toISOString().slice(0, 10), rate: '' }])
const remove = (index: number) => (rates.value = rates.value.filter((_, each) => each !== index))
const errorOf = (index: number, field: keyof Rate) => props.errors[`rates[${index}].${field}`]
</script>

<template>
  <div>
    <p class="mb-2 text-sm text-ink-soft">
      Other currencies are converted by the rate of their day. Amounts without a rate are left out, and the sheet says
      so.
    </p>
    <ol v-if="rates.length > 0" class="mb-2 flex flex-col gap-2">
      <li
        v-for="(each, index) in rates"
        :key="index"
        class="grid grid-cols-[6rem_10rem_9rem_auto] items-start gap-2 max-sm:grid-cols-2"
      >
        <TextField v-model="each.currency" label="Currency" placeholder="GBP" :error="errorOf(index, 'currency')" />
        <TextField v-model="each.from" label="From" type="date" :error="errorOf(index, 'from')" />
        <TextField
          v-model="each.rate"
          label="One is worth"
          placeholder="1.17"
          numeric
          :unit="currency"
          :error="errorOf(index, 'rate')"
        />
        <BaseButton
          class="mt-6.5"
          kind="quiet"
          :aria-label="`Remove the rate of ${each.currency}`"
          @click="remove(index)"
          >Remove</BaseButton
        >
      </li>
    </ol>
    <BaseButton @click="add">Add a rate</BaseButton>
  </div>
</template>
