import { reactive, ref } from 'vue'
import { api, ApiProblem, value, type ProblemBody, type Saved, type Thing } from './client'
import { useRefresh } from './queries'
import { Typed } from './typed'

/** The quiet line at the bottom: what was saved, with undo, or what went wrong. */
export const line = reactive<{ saved?: Saved; problem?: ProblemBody; unanswered?: boolean; at: number }>({ at: 0 })

/** Changes made from this window; their live event needs no second question. */
export const own = new Set<number>()

type Values = Record<string, unknown>

/** Two versions of the same fields, waiting for somebody to pick one. */
export interface Conflict {
  thing: Thing
  base: Values
  mine: Values
  theirs: Values
  pick: (mine: boolean) => void
}

export const conflict = ref<Conflict>()

export function showProblem(body: ProblemBody, unanswered = false) {
  Object.assign(line, { saved: undefined, problem: body, unanswered, at: Date.now() })
}

/** A question that the server could not answer, whichever view it is of. What it refuses is told by the view. */
export function showUnanswered(error: unknown) {
  const { body } = error instanceof ApiProblem ? error : {}
  if (body && (body.status === 0 || body.status >= 500)) showProblem(body, true)
}

/** Says what long work has done, with undo. */
export function showDone(change: number, label: string) {
  const saved: Saved = { change, label, thing: null, rev: null, kinds: [] }
  Object.assign(line, { saved, problem: undefined, at: Date.now() })
}

/** The kinds of things that a write changed; nothing where that is not known, so that everything is asked again. */
const touched = (saved: Saved) => (saved.kinds?.length ? saved.kinds : undefined)

/** Everything that writes goes through here. */
export function useSave() {
  const refresh = useRefresh()

  function told(saved: Saved) {
    if (saved.change != null) {
      own.add(saved.change)
      Object.assign(line, { saved, problem: undefined, at: Date.now() })
    }
  }

  function failed(error: unknown) {
    if (!(error instanceof ApiProblem)) throw error
    showProblem(error.body)
  }

  /** Carries out a write, says what was saved, and asks again for what is on screen. Nothing where it failed. */
  async function save<T extends Saved | { saved: Saved }>(write: Promise<T>): Promise<T | undefined> {
    try {
      const done = await write
      const saved = ('saved' in done ? done.saved : done) as Saved
      told(saved)
      await refresh(touched(saved))
      return done
    } catch (error) {
      failed(error)
      return undefined
    }
  }

  /**
   * Edits fields of a thing that was seen as `row`. Where somebody changed other fields in the meantime the
   * edit is made on top; where it is the same field, both versions are shown and one is picked.
   */
  async function edit(thing: Thing, row: { rev: number }, set: Values): Promise<Saved | undefined> {
    const seen = row as unknown as Values
    const names = Object.keys(set)
    const over = (name: string) => (set[name] instanceof Typed ? set[name].over : (seen[name] ?? null))
    const base = Object.fromEntries(names.map((name) => [name, over(name)]))
    const mine = Object.fromEntries(
      names.map((name) => [name, set[name] instanceof Typed ? set[name].value : set[name]]),
    )
    let rev = row.rev
    // Somebody else's value may have arrived while this one was being typed.
    const untouched = (theirs: Values) => names.every((name) => same(theirs[name], base[name]))
    if (!untouched(seen) && !(await picked(thing, base, mine, seen))) return undefined
    for (;;) {
      try {
        const path = { kind: thing.kind, id: thing.id }
        const saved = await value(
          api.PATCH('/api/v1/things/{kind}/{id}', { params: { path }, body: { rev, set: mine } }),
        )
        told(saved)
        await refresh(touched(saved))
        return saved
      } catch (error) {
        if (error instanceof ApiProblem && error.code === 'not-found') {
          showProblem({ ...error.body, title: 'It is gone', detail: `${GONE} ${written(mine)}`.trim() })
          await refresh()
          return undefined
        }
        const present = error instanceof ApiProblem && error.code === 'stale' ? error.body.present : undefined
        if (!present) {
          failed(error)
          return undefined
        }
        rev = Number(present.rev)
        if (!untouched(present) && !(await picked(thing, base, mine, present))) {
          await refresh()
          return undefined
        }
      }
    }
  }

  return { save, edit }
}

const GONE = 'Somebody removed it meanwhile; its history is kept.'

/** What somebody wrote for something that is not there any more, to be taken along. */
function written(mine: Values) {
  const words = Object.values(mine).filter((one) => typeof one === 'string' && one !== '')
  return words.length ? `You had written: “${words.join('”, “')}”.` : ''
}

/** Whether two values say the same; several choices are a list. */
const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null)

/** Shows both versions; true where the person's own is to be written over the other. */
function picked(thing: Thing, base: Values, mine: Values, theirs: Values): Promise<boolean> {
  return new Promise((resolve) => {
    conflict.value = {
      thing,
      base,
      mine,
      theirs,
      pick: (own) => {
        conflict.value = undefined
        resolve(own)
      },
    }
  })
}
