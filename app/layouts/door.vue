<template>
  <main class="mx-auto flex min-h-dvh max-w-sm flex-col justify-center gap-6 p-6">
    <p class="flex items-center gap-3 text-xl font-semibold"><img src="/icon.svg" alt="" class="size-9" /> Vetch</p>
    <slot />
  </main>
</template>
