<template>
  <header class="top">
    <RouterLink class="brand" to="/">Kittiwake Crossings</RouterLink>
    <span>Tickets on foot</span>
  </header>
  <main>
    <RouterView />
  </main>
</template>
