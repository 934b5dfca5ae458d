import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router'

/** Each stage is a chunk of its own, loaded when somebody goes there. */
const stages: RouteRecordRaw[] = [
  { path: 'listen', redirect: { name: 'findings' } },
  { path: 'listen/findings', name: 'findings', component: () => import('./features/listen/FindingsView.vue') },
  { path: 'listen/findings/:id(\\d+)', name: 'finding', component: () => import('./features/listen/FindingView.vue') },
  { path: 'listen/feedback', name: 'feedback', component: () => import('./features/listen/FeedbackView.vue') },
  { path: 'listen/bring-in', name: 'bring-in', component: () => import('./features/listen/BringInView.vue') },
  { path: 'decide', redirect: { name: 'ranking' } },
  { path: 'decide/ranking', name: 'ranking', component: () => import('./features/decide/RankingView.vue') },
  { path: 'decide/objectives', name: 'objectives', component: () => import('./features/decide/ObjectivesView.vue') },
  { path: 'decide/decisions', name: 'decisions', component: () => import('./features/decide/DecisionsView.vue') },
  { path: 'specify', name: 'stories', component: () => import('./features/specify/StoriesView.vue') },
  { path: 'map', name: 'map', component: () => import('./features/map/MapView.vue') },
  { path: 'plan', name: 'releases', component: () => import('./features/plan/ReleasesView.vue') },
  { path: 'handover', redirect: { name: 'roadmap' } },
  { path: 'handover/roadmap', name: 'roadmap', component: () => import('./features/handover/RoadmapView.vue') },
  { path: 'handover/ready', name: 'ready', component: () => import('./features/handover/ReadyView.vue') },
  { path: 'handover/queue/:team(\\d+)?', name: 'queue', component: () => import('./features/handover/QueueView.vue') },
  {
    path: ':stage(listen|decide|specify|plan)/all/:collection(feedback_item|excerpt|finding|person|account|objective|idea|work_item|release|study|document|sprint|page)',
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
    { path: '/start', name: 'start', component: () => import('./features/start/OwnerView.vue') },
    { path: '/p/:product(\\d+)', component: () => import('./shell/AppShell.vue'), children: stages },
    { path: '/:rest(.*)*', component: () => import('./features/start/NowhereView.vue') },
  ],
})
