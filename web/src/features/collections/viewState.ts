import { computed, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Collection, Definition, FieldDef, FirstView, Query, SavedView } from '@/api/collections'
import { asked, firstView } from './model'

/** What the address says: a saved view, what was changed in it, or both. So a link opens exactly what was seen. */
export function useViewState(
  collection: Ref<Collection>,
  fields: Ref<readonly FieldDef[] | undefined>,
  views: Ref<readonly SavedView[] | undefined>,
  firsts: Ref<readonly FirstView[] | undefined>,
) {
  const route = useRoute()
  const router = useRouter()

  const named = computed(() => String(route.query.view ?? ''))
  const saved = computed(() => {
    const all = views.value ?? []
    if (named.value === '') return all.find((view) => view.opens_first)
    return all.find((view) => String(view.id) === named.value)
  })
  /** The view that comes with the product, where it is the present one. */
  const first = computed(() => {
    if (saved.value || named.value === 'none') return undefined
    const all = firsts.value ?? []
    return all.find((view) => view.key === named.value) ?? all[0]
  })
  const key = computed(() => saved.value?.id ?? first.value?.key ?? 'none')
  /** What the address holds beside the saved view; nothing where it is none that can be read. */
  const typed = computed<Definition | undefined>(() => {
    try {
      return route.query.d ? (JSON.parse(String(route.query.d)) as Definition) : undefined
    } catch {
      return undefined
    }
  })
  const definition = computed<Definition | undefined>(() => {
    if (!fields.value || !views.value || !firsts.value) return undefined
    const kept = saved.value?.definition ?? first.value?.definition
    return typed.value ?? kept ?? firstView(collection.value, fields.value)
  })
  const changed = computed(() => typed.value !== undefined)

  function show(next: Definition) {
    return router.replace({ query: { ...route.query, view: key.value, d: JSON.stringify(next) } })
  }

  const change = (part: Partial<Definition>) => definition.value && void show({ ...definition.value, ...part })
  const open = (view: number | string) => router.push({ query: { view } })
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

  return { saved, first, key, definition, changed, change, show, open, asSaved, queryFor }
}

export type ViewState = ReturnType<typeof useViewState>
