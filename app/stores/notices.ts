import { defineStore } from 'pinia'

export interface Notice {
  id: number
  text: string
  tone: 'plain' | 'problem'
  undo?: () => Promise<void> | void
}

const SECONDS = 8

/** Short messages at the edge of the screen, some with a way back. */
export const useNoticesStore = defineStore('notices', () => {
  const notices = ref<Notice[]>([])
  let last = 0

  function show(text: string, options: Partial<Pick<Notice, 'tone' | 'undo'>> = {}): void {
    const id = ++last
    notices.value = [...notices.value, { id, text, tone: 'plain', ...options }]
    setTimeout(() => dismiss(id), SECONDS * 1000)
  }
  function dismiss(id: number): void {
    notices.value = notices.value.filter((notice) => notice.id !== id)
  }
  return { notices, show, dismiss }
})
