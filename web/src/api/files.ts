import { api, value, type Schemas } from './client'

export type Columns = Schemas['Columns']

const asIs = {
  bodySerializer: (body: unknown) => body as BodyInit,
  headers: { 'content-type': 'application/octet-stream' },
}

/** A file travels as it is; the generated types know bodies only as text. */
const raw = (file: File) => file as unknown as string

export const previewFile = (file: File) =>
  value(api.POST('/api/v1/listen/imports/preview', { body: raw(file), ...asIs }))

export const importFile = (file: File, product: number, columns: Columns) =>
  value(
    api.POST('/api/v1/listen/imports', {
      params: { query: { product, name: file.name, ...withoutNothing(columns) } },
      body: raw(file),
      ...asIs,
    }),
  )

/** Puts a file into the workspace; a field holds it by its number. */
export const putIn = (file: File) =>
  value(api.POST('/api/v1/attachments', { params: { query: { name: file.name } }, body: raw(file), ...asIs }))

/** Where a file that a field holds is looked at. */
export const attachment = (id: number) => `/api/v1/attachments/${id}`

function withoutNothing(columns: Columns) {
  const { text, said_on, person, account, rating } = columns
  return {
    text,
    said_on: said_on ?? undefined,
    person: person ?? undefined,
    account: account ?? undefined,
    rating: rating ?? undefined,
  }
}

/** Addresses that a link can point at to keep a file. */
export const takeout = {
  release: (id: number) => `/api/v1/takeout/releases/${id}.md`,
  stories: (product: number) => `/api/v1/takeout/stories.csv?product=${product}`,
  workspace: '/api/v1/takeout/workspace.json',
}
