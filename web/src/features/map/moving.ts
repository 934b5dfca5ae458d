import { computed, inject, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import { api, value, type Schemas } from '@/api/client'
import { useSave } from '@/api/save'
import { useCarried } from '@/shared/carried'
import { inCell, moved, type Cell, type Direction, type Slice, type Target } from './grid'

type Story = Schemas['StoryView']

interface Moving {
  /** The story that is picked up with the keyboard, and where it would be put down. */
  picked: Ref<{ story: Story; to: Target } | undefined>
  pickUp: (story: Story) => void
  move: (way: Direction) => void
  putDown: () => Promise<void>
  leave: () => void
  /** Puts a story before another of a cell, or at its end: what a drag ends in, too. */
  place: (story: Story, cell: Cell, before: number | undefined) => Promise<void>
}

const KEY: InjectionKey<Moving> = Symbol('moving')

/** Moving stories on the map, by drag and by keys, with words for those who hear it. */
export function provideMoving(
  stories: ComputedRef<readonly Story[]>,
  steps: ComputedRef<readonly Schemas['Step'][]>,
  slices: ComputedRef<readonly Slice[]>,
) {
  const { save } = useSave()
  const picked: Moving['picked'] = ref()
  const saying = ref('')
  const { carry } = useCarried([stories, () => picked.value?.to])
  const others = (cell: Cell) => inCell(stories.value, cell).filter((story) => story.id !== picked.value?.story.id)

  async function place(story: Story, cell: Cell, before: number | undefined) {
    const body = { rev: story.rev, step_id: cell.step, release_id: cell.release, before }
    await save(value(api.POST('/api/v1/map/stories/{id}/place', { params: { path: { id: story.id } }, body })))
  }

  function where(to: Target) {
    const step = steps.value.find((one) => one.id === to.step)?.title ?? ''
    const slice = slices.value.find((one) => one.id === to.release)?.title ?? ''
    return `${step}, ${slice}, place ${to.at + 1} of ${others(to).length + 1}`
  }

  const moving: Moving = {
    picked,
    place,
    pickUp(story) {
      const step = story.step_id ?? steps.value[0]?.id
      if (step === undefined) return
      const cell = { step, release: story.release_id ?? null }
      const at = story.step_id == null ? 0 : inCell(stories.value, cell).findIndex((one) => one.id === story.id)
      picked.value = { story, to: { ...cell, at } }
      carry(`card-${story.id}`)
      saying.value = `Picked up ${story.reference}. Arrows move it, Space puts it down, Escape leaves it. ${where(picked.value.to)}`
    },
    move(way) {
      if (!picked.value) return
      carry(`card-${picked.value.story.id}`)
      const stepIds = steps.value.map((step) => step.id)
      const releases = slices.value.map((slice) => slice.id)
      picked.value.to = moved(picked.value.to, way, stepIds, releases, (cell) => others(cell).length)
      saying.value = where(picked.value.to)
    },
    async putDown() {
      if (!picked.value) return
      const { story, to } = picked.value
      const before = others(to)[to.at]?.id
      saying.value = `Put down ${story.reference}: ${where(to)}`
      picked.value = undefined
      carry(`card-${story.id}`)
      await place(story, to, before)
    },
    leave() {
      if (!picked.value) return
      carry(`card-${picked.value.story.id}`)
      saying.value = `Left ${picked.value.story.reference} where it was`
      picked.value = undefined
    },
  }
  provide(KEY, moving)
  return { saying: computed(() => saying.value) }
}

export function useMoving(): Moving {
  const moving = inject(KEY)
  if (!moving) throw new Error('useMoving is called outside MapView')
  return moving
}
