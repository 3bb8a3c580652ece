<script setup lang="ts">
definePageMeta({ redirect: (to) => ({ path: `/sites/${String(to.params.site)}/hypotheses/list`, query: to.query }) })
</script>

<template><div /></template>
