import type { Router } from 'vue-router'
import { LISTEN, DECIDE, PLAN, SPECIFY } from '@/shared/tabs'
import { STAGES } from './stages'

/** Something that can be done from the find box by its words. */
export interface Command {
  label: string
  run: () => unknown
}

/** What the find box offers beside things: every stage and view, and what the keys of the window do. */
export function commandsOf(
  router: Router,
  product: number,
  acts: { undo: () => unknown; redo: () => unknown; keys: () => unknown; note: () => unknown },
): Command[] {
  const stages = STAGES.map((stage) => ({
    label: `Go to ${stage.label}`,
    run: () => router.push(`/p/${product}/${stage.path}`),
  }))
  const views = [...LISTEN, ...DECIDE, ...SPECIFY, ...PLAN].map((tab) => ({
    label: `Open ${tab.label.toLowerCase()}`,
    run: () => router.push({ name: tab.name, params: { product, ...tab.params } }),
  }))
  const others = [
    { label: 'Open the opening page', name: 'opening' },
    { label: 'Open what I was told', name: 'notices' },
    { label: 'Open rules', name: 'rules' },
  ].map(({ label, name }) => ({ label, run: () => router.push({ name, params: { product } }) }))
  return [
    ...stages,
    ...others,
    ...views,
    { label: 'Note what somebody said', run: acts.note },
    { label: 'Undo my last change', run: acts.undo },
    { label: 'Do it again', run: acts.redo },
    { label: 'Show the keys', run: acts.keys },
  ]
}
