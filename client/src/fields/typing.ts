import { ref, watch } from 'vue'

/** What is typed over a value that may change meanwhile (an edit's answer comes, another device edits): what a hand
 *  has begun to type is never overwritten; it ends by Enter, by leaving the field, or by Escape. */
export function typing(shown: () => string) {
  const text = ref(shown())
  const wrong = ref('')
  let clean = true
  watch(shown, (now) => { if (clean) text.value = now })
  return {
    text,
    wrong,
    begun() { clean = false },
    back() {
      text.value = shown()
      wrong.value = ''
      clean = true
    },
    /** What was typed; null where nothing was, or it says what stands there. */
    ended(): string | null {
      const typed = text.value.trim()
      wrong.value = ''
      if (clean) return null
      clean = true
      return typed === shown() ? null : typed
    },
    /** It cannot be read: it stays as typed, with what is wrong. */
    refused(words: string) {
      wrong.value = words
      clean = false
    },
  }
}
