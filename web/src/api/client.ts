import createClient from 'openapi-fetch'
import type { components, paths } from './schema.gen'

export type Schemas = components['schemas']
export type Thing = Schemas['Thing']
export type ThingKind = Schemas['ThingKind']
export type Saved = Schemas['Saved']
export type ProblemBody = Schemas['ProblemBody']

/** What only asks, so that it can be asked again where the connection was lost on the way. */
const onlyAsks = ({ method, url }: Request) => method === 'GET' || /\/collections\/\w+\/(rows|groups)$/.test(url)
/** How long to wait before each further try, in milliseconds. */
const WAITS = [300, 1500]

async function patient(request: Request): Promise<Response> {
  for (const wait of onlyAsks(request) ? WAITS : []) {
    try {
      return await fetch(request.clone())
    } catch {
      await new Promise((resolve) => setTimeout(resolve, wait))
    }
  }
  return fetch(request)
}

export const api = createClient<paths>({ baseUrl: '', fetch: patient })

/** A request that the server could not carry out; its words say what to do. */
export class ApiProblem extends Error {
  constructor(readonly body: ProblemBody) {
    super(body.detail)
  }

  get code() {
    return this.body.code
  }
}

export const LOST: ProblemBody = {
  type: 'urn:iron-kite:problem:no-connection',
  code: 'no-connection',
  title: 'No connection to the server',
  detail: 'Nothing was changed. What you typed is still here; try again in a moment.',
  status: 0,
  faults: [],
  present: null,
}

/** The value of an answer, or the problem as an error. */
export async function value<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let done
  try {
    done = await answer
  } catch {
    throw new ApiProblem(LOST)
  }
  if (done.response.ok) return done.data as T
  throw new ApiProblem(isProblem(done.error) ? done.error : LOST)
}

function isProblem(error: unknown): error is ProblemBody {
  return typeof error === 'object' && error !== null && 'code' in error && 'detail' in error
}
