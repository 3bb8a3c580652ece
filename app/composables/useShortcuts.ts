export interface Shortcut {
  /** Keys in the order of being pressed, such as `g e`, or a single one. */
  keys: string
  label: string
  run: () => void
  /** Whether it does anything as things are; always where left out. */
  isOn?: () => boolean
}

const active = shallowRef<Shortcut[]>([])
const working = computed(() => active.value.filter(({ isOn }) => isOn?.() ?? true))

/** Shortcuts of a screen, for as long as it is there. */
export function useShortcuts(shortcuts: Shortcut[]): void {
  onMounted(() => (active.value = [...active.value, ...shortcuts]))
  onBeforeUnmount(() => (active.value = active.value.filter((each) => !shortcuts.includes(each))))
}

/** Listens for the shortcuts of all screens that are there; called once, by the layout. Answers those that work now. */
export function useShortcutListener() {
  let typed = ''
  let forget: ReturnType<typeof setTimeout> | undefined
  useEventListener('keydown', (event: KeyboardEvent) => {
    const isTyping =
      event.target instanceof HTMLElement && event.target.matches('input, textarea, select, [contenteditable]')
    if (isTyping || event.ctrlKey || event.metaKey || event.altKey || document.querySelector('[role="dialog"]')) return
    clearTimeout(forget)
    forget = setTimeout(() => (typed = ''), 1000)
    typed = `${typed} ${event.key}`.trim()
    const found = working.value.find(({ keys }) => typed === keys || typed.endsWith(` ${keys}`))
    if (!found) return
    event.preventDefault()
    typed = ''
    found.run()
  })
  return working
}
