import type { Schemas } from '@/api/client'

type Story = Schemas['StoryView']

/** A cell of the map: a step and a release; nothing stands for "not in a release yet". */
export interface Cell {
  step: number
  release: number | null
}

export interface Slice {
  id: number | null
  title: string
  release?: Schemas['ReleaseView']
}

/** The slices from top to bottom: releases in the order in which they go out, then what is in none. */
export function slicesOf(releases: readonly Schemas['ReleaseView'][]): Slice[] {
  return [
    ...releases.map((release) => ({ id: release.id as number | null, title: release.title, release })),
    { id: null, title: 'Not in a release yet' },
  ]
}

/** The stories of a cell in their order. */
export function inCell(stories: readonly Story[], cell: Cell): Story[] {
  return stories
    .filter((story) => story.step_id === cell.step && (story.release_id ?? null) === cell.release)
    .sort((a, b) => a.map_position - b.map_position || a.id - b.id)
}

export type Direction = 'left' | 'right' | 'up' | 'down'

/** Where a picked-up story goes by an arrow key: within its cell, then on to the slice above or below, or the next step. */
export interface Target extends Cell {
  /** Its place among the others of the cell. */
  at: number
}

/**
 * One key's move. `sizes` tells how many other stories lie in a cell. Up and down run through a cell before they
 * leave it; left and right keep the height as far as the next cell reaches.
 */
export function moved(
  from: Target,
  way: Direction,
  steps: readonly number[],
  releases: readonly (number | null)[],
  sizes: (cell: Cell) => number,
): Target {
  if (way === 'left' || way === 'right') {
    const step = steps[steps.indexOf(from.step) + (way === 'left' ? -1 : 1)]
    if (step === undefined) return from
    const cell = { step, release: from.release }
    return { ...cell, at: Math.min(from.at, sizes(cell)) }
  }
  if (way === 'up' && from.at > 0) return { ...from, at: from.at - 1 }
  if (way === 'down' && from.at < sizes(from)) return { ...from, at: from.at + 1 }
  const release = releases[releases.indexOf(from.release) + (way === 'up' ? -1 : 1)]
  if (release === undefined) return from
  const cell = { step: from.step, release }
  return { ...cell, at: way === 'up' ? sizes(cell) : 0 }
}
