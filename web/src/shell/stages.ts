/** The seven stages in the order of the work. `path` is also their name in the API. */
export const STAGES = [
  { path: 'listen', label: 'Listen' },
  { path: 'decide', label: 'Decide' },
  { path: 'specify', label: 'Specify' },
  { path: 'map', label: 'Map' },
  { path: 'plan', label: 'Plan' },
  { path: 'handover', label: 'Hand over' },
  { path: 'learn', label: 'Learn' },
] as const

/** The keys of the whole window; those of a view stand beside it. */
export const KEYS = [
  ['Alt + 1 … 7', 'go to a stage'],
  ['/', 'find: a reference such as S14, words in anything, or something to do'],
  ['n or Alt + n', 'note what somebody said; Ctrl + Enter keeps it'],
  ['?', 'show these keys'],
  ['.', 'go to the trace of what is selected'],
  ['Ctrl + Z', 'undo my last change'],
  ['Ctrl + Shift + Z', 'do it again'],
  ['Enter', 'save what is being edited; Escape takes it back'],
  [
    'Arrows in a table',
    'go from cell to cell; Enter edits, Space chooses the row, Shift marks, Ctrl + C and V copy and paste',
  ],
  ['Space on a card', 'pick up, arrows to move, Space to put down, Escape to leave it'],
] as const
