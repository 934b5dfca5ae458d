import type { ThingKind } from '@/api/client'
import { KINDS } from '@/api/kinds.gen'
import { useMe } from '@/api/queries'

/** The roles, from the least to the most. */
export const ROLES = ['viewer', 'contributor', 'editor', 'owner'] as const
export type Role = (typeof ROLES)[number]

/** What whoever is signed in may do by hand; nobody is offered what they would be refused. */
export function useRights() {
  const { data: me } = useMe()
  const may = (needs: Role | null) =>
    needs !== null && !!me.value && ROLES.indexOf(me.value.role) >= ROLES.indexOf(needs)
  return {
    may,
    mayAdd: (kind: ThingKind) => may(KINDS[kind].add),
    mayChange: (kind: ThingKind) => may(KINDS[kind].change),
    mayRemove: (kind: ThingKind) => may(KINDS[kind].remove),
  }
}
