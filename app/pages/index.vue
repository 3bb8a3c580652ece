<template>
  <p class="p-8 text-ink-soft">Opening …</p>
</template>
