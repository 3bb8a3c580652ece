<template>
  <NuxtLayout>
    <NuxtPage />
  </NuxtLayout>
  <NoticeList />
</template>
