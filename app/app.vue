<script setup lang="ts">
// Every view is in the colors that the person or their system prefers, the doors too.
useDark()
</script>

<template>
  <NuxtLayout>
    <NuxtPage />
  </NuxtLayout>
  <NoticeList />
</template>
