import { createMemoryHistory, createRouter, type Router } from 'vue-router'

const Nothing = { render: () => null }
/** Places that parts of the page lead to by their names. */
const NAMES = [
  ...['finding', 'results', 'grouping', 'overview', 'notices', 'rules', 'opening', 'ranking', 'report', 'bring-in'],
  ...[
    'map',
    'queue',
    'ready',
    'roadmap',
    'decisions',
    'priorities',
    'budget',
    'models',
    'check',
    'ask',
    'conversation',
  ],
]

/** The addresses of the application without its views, opened at one of them. */
export async function openedAt(path: string): Promise<Router> {
  const named = NAMES.map((name) => ({ path: `/p/:product/${name}/:id?`, name, component: Nothing }))
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      ...named,
      { path: '/p/:product(\\d+)/:stage/:collection', name: 'collection', component: Nothing },
      { path: '/:rest(.*)*', component: Nothing },
    ],
  })
  await router.push(path)
  return router
}
