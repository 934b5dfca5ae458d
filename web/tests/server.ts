/** A request that reached the server, and its body where it had one. */
export interface Asked {
  method: string
  path: string
  body: unknown
}

export const answer = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })

/** A problem as the server tells it. */
export const problem = (code: string, status: number, more: object = {}) =>
  answer(
    { type: `urn:iron-kite:problem:${code}`, code, title: code, detail: `It is ${code}.`, status, ...more },
    status,
  )

/** Stands in for the server: gives what `answers` gives, and keeps what was asked. No answer is a lost connection. */
export function answering(answers: (asked: Asked, n: number) => Response | undefined): Asked[] {
  const heard: Asked[] = []
  globalThis.fetch = async (input) => {
    const request = input as Request
    const text = await request.clone().text()
    const { pathname, search } = new URL(request.url)
    const asked = {
      method: request.method,
      path: pathname + search,
      body: text ? (JSON.parse(text) as unknown) : undefined,
    }
    heard.push(asked)
    const given = answers(asked, heard.length)
    if (!given) throw new TypeError('fetch failed')
    return given
  }
  return heard
}

/** Waits do not take time. Gives them back as they were, and how long each would have been. */
export async function withoutWaiting<T>(act: () => Promise<T>): Promise<{ done: T; waits: number[] }> {
  const real = globalThis.setTimeout
  const waits: number[] = []
  globalThis.setTimeout = ((run: () => void, wait = 0) => {
    waits.push(wait)
    return real(run, 0)
  }) as typeof setTimeout
  try {
    return { done: await act(), waits }
  } finally {
    globalThis.setTimeout = real
  }
}
