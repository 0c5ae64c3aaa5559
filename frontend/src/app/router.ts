import { createRouter, createWebHistory } from 'vue-router'
import YardView from '../yard/YardView.vue'

export const STAGES = ['survey', 'match', 'run', 'wake', 'settings', 'build', 'prove', 'handover'] as const
export type Stage = (typeof STAGES)[number]
export const STAGE_LABEL: Record<Stage, string> = {
  survey: 'Survey',
  match: 'Match',
  run: 'Run',
  wake: 'Wake',
  settings: 'Settings',
  build: 'Build',
  prove: 'Prove',
  handover: 'Hand over',
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'yard', component: YardView },
    { path: '/job/:id(\\d+)/:stage?', name: 'job', component: () => import('../job/JobView.vue') },
    { path: '/shelf/:kind?', name: 'shelf', component: () => import('../shelf/ShelfView.vue') },
    { path: '/house', name: 'house', component: () => import('../house/HouseView.vue') },
    { path: '/practice', name: 'practice', component: () => import('../practice/PracticeView.vue') },
    {
      path: '/practice/case/:level([1-6])-:number(\\d+)',
      name: 'practice-case',
      component: () => import('../practice/CaseView.vue'),
    },
    {
      path: '/practice/drill/:kind/:number(\\d+)',
      name: 'practice-drill',
      component: () => import('../practice/DrillView.vue'),
    },
    { path: '/join', name: 'join', component: () => import('../people/JoinView.vue') },
    { path: '/:rest(.*)', name: 'lost', component: () => import('./LostView.vue') },
  ],
})
