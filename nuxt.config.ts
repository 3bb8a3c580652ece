import tailwindcss from '@tailwindcss/vite'

export default defineNuxtConfig({
  compatibilityDate: '2026-11-01',
  modules: ['@pinia/nuxt', '@vueuse/nuxt'],
  // Everything shown depends on who is signed in, so nothing is gained by rendering on the server.
  ssr: false,
  css: ['~/assets/main.css'],
  components: [{ path: '~/components', pathPrefix: false }],
  vite: { plugins: [tailwindcss()] },
  app: {
    head: {
      title: 'Vetch',
      htmlAttrs: { lang: 'en' },
      link: [{ rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' }],
    },
  },
  runtimeConfig: {
    databaseUrl: '',
    demoOrigin: '',
    deliveryDirectory: '',
    sessionPassword: '',
    /** Set where Vetch is served over TLS. */
    secureCookies: false,
  },
  nitro: { preset: 'node-server', compressPublicAssets: true },
  typescript: { strict: true, tsConfig: { compilerOptions: { noUncheckedIndexedAccess: true } } },
  devtools: { enabled: false },
  telemetry: false,
})
