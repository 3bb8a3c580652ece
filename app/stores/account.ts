import type { AccountView, SiteRef } from '~~/shared/accounts/replies'
import { defineStore } from 'pinia'

/** Who is signed in, and the sites they may see. */
export const useAccountStore = defineStore('account', () => {
  const api = useApi()
  const view = ref<AccountView | null>(null)

  async function load(): Promise<AccountView> {
    view.value ??= await api('readAccount', {})
    return view.value
  }
  async function reload(): Promise<AccountView> {
    view.value = await api('readAccount', {})
    return view.value
  }
  async function signOut(): Promise<void> {
    await api('signOut', {})
    forget()
    await navigateTo('/sign-in')
  }
  function adopt(next: AccountView): void {
    view.value = next
  }
  function forget(): void {
    view.value = null
  }
  function site(id: number): SiteRef | null {
    return view.value?.sites.find((each) => each.id === id) ?? null
  }
  return { view, load, reload, adopt, forget, signOut, site }
})
