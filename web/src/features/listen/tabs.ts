export const LISTEN = [
  { name: 'findings', label: 'Findings' },
  { name: 'feedback', label: 'Feedback' },
  { name: 'accounts', label: 'Accounts' },
  { name: 'bring-in', label: 'Bring in' },
] as const
