/** Making a job from another: what went wrong in words, and the way to the new one. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure } from '../api/client'
import type { RouteState } from '../api/types'

export function making() {
  const router = useRouter()
  const [wrong, busy] = [ref(''), ref(false)]
  /** Make a job and open it. */
  async function make(act: () => Promise<RouteState>): Promise<void> {
    if (busy.value) return
    busy.value = true
    try {
      const made = await act()
      await router.push(`/routes/${made.route}/route`)
    } catch (error) {
      if (!(error instanceof BirchFailure)) throw error
      wrong.value = error.failure.message
    } finally { busy.value = false }
  }
  return { wrong, busy, make }
}
