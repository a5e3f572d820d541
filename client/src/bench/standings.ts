/** How far each job is, asked for one after another: a page of them would else keep the server busy at once. */
import { api } from '../api/client'
import type { JobStanding } from '../api/types'

let last: Promise<unknown> = Promise.resolve()

export function standing_of(id: number): Promise<JobStanding | null> {
  const asked = last.then(() => api.standing(id)).catch(() => null)
  last = asked
  return asked
}

let events: EventSource | null = null
const waiting = new Set<{ hash: string; then: () => void }>()

/** Do something when a document was judged while the bench is looked at; what is returned ends that. */
export function when_judged(hash: string, then: () => void): () => void {
  const one = { hash, then }
  waiting.add(one)
  events ??= new EventSource('/api/events')
  events.onmessage = (event) => {
    const news = JSON.parse(event.data) as { what: string; proof?: string }
    if (news.what === 'done') for (const w of waiting) if (w.hash === news.proof) w.then()
  }
  return () => {
    waiting.delete(one)
    if (waiting.size) return
    events?.close()
    events = null
  }
}
