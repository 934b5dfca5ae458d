import { computed } from 'vue'
import { useTeams } from '@/api/queries'

/** The roadmap, the ready check, and a queue for each team under its own name. */
export function useHandoverTabs() {
  const { data: teams } = useTeams()
  const tabs = computed(() => [
    { name: 'roadmap', label: 'Roadmap' },
    { name: 'ready', label: 'Ready check' },
    ...(teams.value ?? []).map((team) => ({
      name: 'queue',
      label: `Queue of ${team.name}`,
      params: { team: team.id },
    })),
  ])
  return { teams, tabs }
}
