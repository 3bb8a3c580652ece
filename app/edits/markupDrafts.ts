/** HTML that was typed and not kept yet, by where it belongs: pointing elsewhere and coming back loses nothing. */
const drafts = new Map<string, string>()

/** A text that is being written, which stays for whoever comes back to the same place. */
export function useMarkupDraft(place: string, initial: string) {
  const text = ref(drafts.get(place) ?? initial)
  watch(text, (typed) => (typed === '' || typed === initial ? drafts.delete(place) : drafts.set(place, typed)))
  return text
}
