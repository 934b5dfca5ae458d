import { computed, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Collection, Definition, FieldDef, Query, SavedView } from '@/api/collections'
import { asked, firstView } from './model'

/** What the address says: a saved view, what was changed in it, or both. So a link opens exactly what was seen. */
export function useViewState(
  collection: Ref<Collection>,
  fields: Ref<readonly FieldDef[] | undefined>,
  views: Ref<readonly SavedView[] | undefined>,
) {
  const route = useRoute()
  const router = useRouter()

  const saved = computed(() => {
    const id = Number(route.query.view)
    const all = views.value ?? []
    if (route.query.view === 'none') return undefined
    return all.find((view) => view.id === id) ?? all.find((view) => view.opens_first)
  })
  /** What the address holds beside the saved view; nothing where it is none that can be read. */
  const typed = computed<Definition | undefined>(() => {
    try {
      return route.query.d ? (JSON.parse(String(route.query.d)) as Definition) : undefined
    } catch {
      return undefined
    }
  })
  const definition = computed<Definition | undefined>(() => {
    if (!fields.value || !views.value) return undefined
    return typed.value ?? saved.value?.definition ?? firstView(collection.value, fields.value)
  })
  const changed = computed(() => typed.value !== undefined)

  function show(next: Definition) {
    return router.replace({ query: { ...route.query, view: saved.value?.id ?? 'none', d: JSON.stringify(next) } })
  }

  const change = (part: Partial<Definition>) => definition.value && void show({ ...definition.value, ...part })
  const open = (view: number | 'none') => router.push({ query: { view } })
  const asSaved = (view: number) => router.replace({ query: { ...route.query, view, d: undefined } })

  /** What is asked of the server, with the fields that the kind of view needs. */
  function queryFor(extra: readonly (string | null | undefined)[] = []): Query {
    const view = definition.value ?? {}
    const known = (name: string | null | undefined): name is string =>
      !!name && !!fields.value?.some((field) => field.name === name && !field.retired)
    const names = [...(view.fields ?? []).map((field) => field.name), ...extra].filter(known)
    return {
      filter: asked(view.filter),
      order: (view.order ?? []).filter((by) => known(by.field)),
      group: (view.group ?? []).filter((by) => known(by.field)),
      totals: (view.totals ?? []).filter((one) => known(one.field)),
      fields: [...new Set(names)],
    }
  }

  return { saved, definition, changed, change, show, open, asSaved, queryFor }
}

export type ViewState = ReturnType<typeof useViewState>
