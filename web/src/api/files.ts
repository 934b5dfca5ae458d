import { api, value, type Schemas } from './client'

export type Columns = Schemas['Columns']

const asIs = {
  bodySerializer: (body: unknown) => body as BodyInit,
  headers: { 'content-type': 'application/octet-stream' },
}

/** A file travels as it is; the generated types know bodies only as text. */
const raw = (file: File) => file as unknown as string

/** Puts a file of feedback down: what it holds, and what taking it would do. */
export const putDown = (file: File, product: number) =>
  value(
    api.POST('/api/v1/listen/files', {
      params: { query: { product, name: file.name } },
      body: raw(file),
      ...asIs,
    }),
  )

/** Brings in a table of accounts. */
export const putAccounts = (file: File) =>
  value(api.POST('/api/v1/listen/accounts', { params: { query: { name: file.name } }, body: raw(file), ...asIs }))

/** Reads the text of a file as a page of somebody else's; nothing is kept. */
export const readFoundPage = (file: File) =>
  value(
    api.POST('/api/v1/decide/market/pages/text', {
      params: { query: { name: file.name } },
      body: raw(file),
      ...asIs,
    }),
  )

/** Puts a file into the workspace; a field holds it by its number. */
export const putIn = (file: File) =>
  value(api.POST('/api/v1/attachments', { params: { query: { name: file.name } }, body: raw(file), ...asIs }))

/** Puts all that another workspace held into this one, which has nothing in it. */
export const putWhole = (file: File) => value(api.POST('/api/v1/takeout/workspace', { body: raw(file), ...asIs }))

/** Where a file that a field holds is looked at. */
export const attachment = (id: number) => `/api/v1/attachments/${id}`

/** Addresses that a link can point at to keep a file. */
export const takeout = {
  release: (id: number) => `/api/v1/takeout/releases/${id}.md`,
  stories: (product: number) => `/api/v1/takeout/stories.csv?product=${product}`,
  report: (form: 'md' | 'docx', asked: object) => {
    const given = Object.entries(asked).filter(([, value]) => value !== undefined)
    return `/api/v1/takeout/report.${form}?${new URLSearchParams(given.map(([name, value]) => [name, String(value)]))}`
  },
  decisions: (product: number) => `/api/v1/takeout/decisions.md?product=${product}`,
  prioritisation: (id: number, form: 'md' | 'docx') => `/api/v1/takeout/prioritisations/${id}.${form}`,
  workspace: '/api/v1/takeout/workspace.json',
}
