export const DECIDE = [
  { name: 'ranking', label: 'Ranking' },
  { name: 'objectives', label: 'Objectives' },
  { name: 'decisions', label: 'Decisions' },
] as const
