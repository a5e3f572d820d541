/** The one way to the server. Every failure becomes a BirchFailure with words for people. */
import type { Edit, Failure, Release, RouteRow, RouteState, RunRow, Shop } from './types'

export class BirchFailure extends Error {
  constructor(readonly status: number, readonly failure: Failure) {
    super(failure.message)
  }
}

async function call<T>(path: string, method = 'GET', body?: unknown): Promise<T> {
  let answer: Response
  try {
    answer = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
    })
  } catch {
    throw new BirchFailure(0, { code: 'offline', message: 'Birch Route does not answer. What you see stays; it tries again.', where: null, facts: {} })
  }
  if (!answer.ok) {
    const failure = (await answer.json().catch(() => null)) as Failure | null
    throw new BirchFailure(answer.status, failure ?? { code: 'unknown', message: `The server answered ${answer.status}.`, where: null, facts: {} })
  }
  return (answer.status === 204 ? null : await answer.json()) as T
}

export const api = {
  me: () => call<{ name: string; role: string }>('/me'),
  shop: () => call<Shop>('/shop'),
  routes: (search: string, skip: number) => call<{ count: number; routes: RouteRow[] }>(`/routes?search=${encodeURIComponent(search)}&skip=${skip}`),
  route: (id: number) => call<RouteState>(`/routes/${id}`),
  copy: (id: number) => call<RouteState>(`/routes/${id}/copy`, 'POST'),
  import_route: (text: string) => call<RouteState>('/routes', 'POST', text),
  edit: (id: number, revision: number, edits: Edit[], reason = '') => call<RouteState>(`/routes/${id}/edits`, 'POST', { revision, edits, reason }),
  undo: (id: number, revision: number) => call<RouteState>(`/routes/${id}/undo`, 'POST', { revision }),
  redo: (id: number, revision: number) => call<RouteState>(`/routes/${id}/redo`, 'POST', { revision }),
  revisions: (id: number) => call<{ number: number; what: string; author: string; made_at: string }[]>(`/routes/${id}/revisions`),
  proof: (hash: string) => call<{ report?: NonNullable<RouteState['proof']>['report']; seconds?: number; status?: string }>(`/proofs/${hash}`),
  prove_again: (hash: string) => call<unknown>(`/proofs/${hash}/again`, 'POST'),
  release: (id: number, revision: number, reasons: Record<string, string>) => call<Release>(`/routes/${id}/release`, 'POST', { revision, reasons }),
  runs: (id: number) => call<RunRow[]>(`/routes/${id}/runs`),
  record: (id: number, body: { revision: number; outcome: string; note: string; minutes: Record<string, number> }) =>
    call<unknown>(`/routes/${id}/runs`, 'POST', body),
  async view(hash: string): Promise<ArrayBuffer | null> {
    const answer = await fetch(`/api/proofs/${hash}/view`)
    return answer.status === 200 ? answer.arrayBuffer() : null
  },
}
