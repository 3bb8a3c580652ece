import { createApp } from 'vue'
import { createRouter, createWebHistory } from 'vue-router'
import { CROSSINGS } from '../../site/crossings'
import IslandPage from './IslandPage.vue'
import KioskFrame from './KioskFrame.vue'
import PartyPage from './PartyPage.vue'
import PaymentPage from './PaymentPage.vue'
import TicketPage from './TicketPage.vue'
import { hasParty } from './party'
import './kiosk.css'

const islands = CROSSINGS.map(({ slug }) => slug).join('|')
const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: IslandPage, meta: { title: 'Tickets' } },
    { path: `/to/:slug(${islands})`, component: PartyPage, props: true, meta: { title: 'Who travels?' } },
    {
      path: '/pay',
      component: PaymentPage,
      meta: { title: 'Pay' },
      // Whoever opens this address anew has chosen nothing yet.
      beforeEnter: () => hasParty() || '/',
    },
    { path: '/ticket/:number', component: TicketPage, props: true, meta: { title: 'Your ticket' } },
    { path: '/:elsewhere(.*)', redirect: '/' },
  ],
})
router.afterEach(({ meta }) => {
  document.title = `${String(meta.title)} – Kittiwake Crossings`
})

createApp(KioskFrame).use(router).mount('#kiosk')
