<script setup lang="ts">
defineProps<{ number: string }>()
</script>

<template>
  <h1>Have a good crossing</h1>
  <p class="lead">
    Your ticket is number <strong>{{ number }}</strong>. Show it when you board.
  </p>
  <p><RouterLink id="another-ticket" class="button" to="/">Buy another ticket</RouterLink></p>
</template>
