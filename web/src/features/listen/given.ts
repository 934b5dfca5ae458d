import type { Schemas } from '@/api/client'
import type { Columns } from '@/api/files'

/** A part of a file that was put down, and what somebody decided about it. */
export interface Given {
  file: number
  part: number
  view: Schemas['PartView']
  columns?: Columns
  take: boolean
  /** Whether what tells who somebody is is covered in the words. */
  cover: boolean
  /** The study that it was said in. */
  study?: number
  counts: Schemas['Counts']
}

const NONE: Schemas['Counts'] = { new: 0, same: 0, changed: 0, left_out: 0 }

export const countsOf = (view: Schemas['PartView']): Schemas['Counts'] =>
  view.holds === 'table' || view.holds === 'documents' ? view.counts : NONE
