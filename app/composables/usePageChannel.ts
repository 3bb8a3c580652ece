import type { PointingSession } from '~~/shared/experiments/replies'
import type { MaybeRefOrGetter, Ref } from 'vue'
import { readFromPage, type FromPage, type ToPage } from '~~/shared/edits/pointing'

/** A page that has the script line answers well within this time, in ms. */
const PATIENCE = 8000

/**
 * The talk with a page that is open for pointing, in a frame or in a window of its own. Only messages of that very
 * window, from the page's own origin, with the token that it was opened with, are listened to.
 *
 * @param frame - in which the page stands, unless it has a window of its own
 * @param openPage - gets the page's address with a token
 */
export function usePageChannel(
  frame: Readonly<Ref<HTMLIFrameElement | null>>,
  openPage: () => Promise<PointingSession>,
  take: (message: FromPage) => void,
) {
  const session = shallowRef<PointingSession | null>(null)
  const state = ref<'opening' | 'ready' | 'silent'>('opening')
  const problem = ref('')
  const ownWindow = shallowRef<Window | null>(null)
  let patience: ReturnType<typeof setTimeout> | undefined
  /** Whether a copy of the page is shown, which has no origin. */
  const isCopy = ref(false)
  const origin = computed(() => (session.value ? new URL(session.value.address).origin : null))
  const address = computed(() => (isCopy.value ? session.value?.copy : session.value?.address))
  const page = () => ownWindow.value ?? frame.value?.contentWindow ?? null
  /** Keeps the token from page to page, as long as the frame or window is there. */
  const name = computed(() => (session.value ? `vetch-point=${session.value.token}` : undefined))

  async function open(): Promise<void> {
    problem.value = ''
    state.value = 'opening'
    clearTimeout(patience)
    try {
      session.value = await openPage()
      if (ownWindow.value) {
        ownWindow.value.name = name.value!
        ownWindow.value.location.replace(address.value!)
      }
      patience = setTimeout(() => (state.value = state.value === 'opening' ? 'silent' : state.value), PATIENCE)
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error.message
    }
  }

  /** Shows a copy of the page that Vetch has fetched, for pages without the script line; or the page itself again. */
  function showCopy(isWanted: boolean): void {
    isCopy.value = isWanted
    void open()
  }

  /** Opens the page in a window of its own, for pages that may not be shown in a frame. To be called by a click. */
  function openWindow(): void {
    if (ownWindow.value && !ownWindow.value.closed) return ownWindow.value.focus()
    ownWindow.value = window.open('about:blank', '', 'popup,width=1280,height=800')
    if (ownWindow.value) void open()
    else problem.value = 'The browser has blocked the window. Allow it for this page, and try again.'
  }
  function closeWindow(): void {
    ownWindow.value?.close()
    ownWindow.value = null
    void open()
  }

  function send(message: ToPage): void {
    // A copy has no origin to name; the frame holds nothing else.
    if (origin.value) page()?.postMessage(message, isCopy.value ? '*' : origin.value)
  }

  useEventListener('message', (event: MessageEvent) => {
    if (!session.value || event.source !== page() || event.origin !== (isCopy.value ? 'null' : origin.value)) return
    const message = readFromPage(event.data, session.value.token)
    if (!message) return
    if (message.vetch === 'ready') state.value = 'ready'
    take(message)
  })
  onBeforeUnmount(() => {
    clearTimeout(patience)
    ownWindow.value?.close()
  })
  return { session, address, state, problem, name, open, send, ownWindow, openWindow, closeWindow, isCopy, showCopy }
}

/** How small a page of a width is to be drawn to fit, and how tall its window then is. */
export function usePageScale(container: Readonly<Ref<HTMLElement | null>>, width: MaybeRefOrGetter<number>) {
  const room = useElementSize(container)
  const scale = computed(() => Math.min(1, room.width.value / toValue(width) || 1))
  const height = computed(() => Math.floor(room.height.value / scale.value))
  return { scale, height }
}
