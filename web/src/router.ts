import { createRouter, createWebHistory, type RouteLocation, type RouteRecordRaw } from 'vue-router'
import type { Collection } from './api/collections'
import type { ThingKind } from './api/client'
import { placeOf } from './shared/selection'
import { COLLECTIONS } from './api/kinds.gen'
import { listOf } from './shared/tabs'

/** A stage opens with the collection that its work begins with. */
const opens = (stage: string, collection: Collection): RouteRecordRaw => ({
  path: stage,
  redirect: (to: RouteLocation) => ({ ...listOf(collection), params: { ...to.params, ...listOf(collection).params } }),
})

/** Each stage is a chunk of its own, loaded when somebody goes there. */
const stages: RouteRecordRaw[] = [
  { path: '', name: 'opening', component: () => import('./features/start/OpeningView.vue') },
  { path: 'notices', name: 'notices', component: () => import('./features/notices/NoticesView.vue') },
  { path: 'account', name: 'account', component: () => import('./features/account/AccountView.vue') },
  { path: 'workspace', name: 'workspace', component: () => import('./features/workspace/WorkspaceView.vue') },
  { path: 'rules', name: 'rules', component: () => import('./features/rules/RulesView.vue') },
  // Where a message leads: to a thing, wherever it is looked at.
  {
    path: 'at/:kind([a-z_]+)/:id(\\d+)',
    redirect: (to: RouteLocation) =>
      placeOf({ kind: to.params.kind as ThingKind, id: Number(to.params.id) }, Number(to.params.product)),
  },
  opens('listen', 'finding'),
  { path: 'decide', redirect: { name: 'ranking' } },
  opens('specify', 'work_item'),
  opens('plan', 'release'),
  { path: 'listen/finding/:id(\\d+)', name: 'finding', component: () => import('./features/listen/FindingView.vue') },
  { path: 'listen/ask', name: 'ask', component: () => import('./features/listen/EvidenceView.vue') },
  { path: 'listen/overview', name: 'overview', component: () => import('./features/listen/OverviewView.vue') },
  { path: 'listen/report', name: 'report', component: () => import('./features/listen/ReportView.vue') },
  { path: 'listen/check', name: 'check', component: () => import('./features/listen/CheckingView.vue') },
  { path: 'listen/suggestions', name: 'grouping', component: () => import('./features/listen/GroupingView.vue') },
  {
    path: 'listen/study/:id(\\d+)/notes',
    name: 'conversation',
    component: () => import('./features/listen/ConversationView.vue'),
  },
  { path: 'listen/bring-in', name: 'bring-in', component: () => import('./features/listen/BringInView.vue') },
  { path: 'decide/ranking', name: 'ranking', component: () => import('./features/decide/RankingView.vue') },
  { path: 'decide/ranking/budget', name: 'budget', component: () => import('./features/decide/BudgetView.vue') },
  { path: 'decide/ranking/models', name: 'models', component: () => import('./features/decide/ModelsView.vue') },
  { path: 'decide/decisions', name: 'decisions', component: () => import('./features/decide/DecisionsView.vue') },
  {
    path: 'decide/ranking/reports/:id(\\d+)?',
    name: 'priorities',
    component: () => import('./features/decide/PrioritiesView.vue'),
  },
  { path: 'decide/market', name: 'market', component: () => import('./features/decide/MarketView.vue') },
  {
    path: 'decide/objectives/tree',
    name: 'objective-tree',
    component: () => import('./features/decide/ObjectivesView.vue'),
  },
  { path: 'map', name: 'map', component: () => import('./features/map/MapView.vue') },
  { path: 'handover', redirect: { name: 'roadmap' } },
  { path: 'handover/roadmap', name: 'roadmap', component: () => import('./features/handover/RoadmapView.vue') },
  { path: 'handover/ready', name: 'ready', component: () => import('./features/handover/ReadyView.vue') },
  { path: 'handover/queue/:team(\\d+)?', name: 'queue', component: () => import('./features/handover/QueueView.vue') },
  {
    path: `:stage(listen|decide|specify|plan)/:collection(${COLLECTIONS.join('|')})`,
    name: 'collection',
    component: () => import('./features/collections/CollectionView.vue'),
  },
  { path: 'learn', name: 'results', component: () => import('./features/learn/ResultsView.vue') },
]

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./features/start/HomeView.vue') },
    { path: '/sign-in', name: 'sign-in', component: () => import('./features/start/SignInView.vue') },
    { path: '/join', name: 'join', component: () => import('./features/start/JoinView.vue') },
    { path: '/start', name: 'start', component: () => import('./features/start/OwnerView.vue') },
    { path: '/f/:key([0-9a-f]+)', name: 'form', component: () => import('./features/open/FormPage.vue') },
    { path: '/r/:key([0-9a-f]+)', name: 'sent', component: () => import('./features/open/SentPage.vue') },
    {
      path: '/was-it-you/:key([0-9a-f]+)',
      name: 'was-it-you',
      component: () => import('./features/open/WasItYouPage.vue'),
    },
    { path: '/p/:product(\\d+)', component: () => import('./shell/AppShell.vue'), children: stages },
    { path: '/:rest(.*)*', component: () => import('./features/start/NowhereView.vue') },
  ],
})
