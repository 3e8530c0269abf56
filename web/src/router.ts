import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shop', component: () => import('./shop/ShopPage.vue') },
    { path: '/day', name: 'day', component: () => import('./day/DayPage.vue') },
    { path: '/engines/:build', name: 'engine', component: () => import('./engine/EnginePage.vue') },
    { path: '/engines/:build/bench/:operation', name: 'bench', component: () => import('./bench/BenchPage.vue') },
    { path: '/engines/:build/sheet', name: 'sheet', component: () => import('./sheet/SheetPage.vue') },
    { path: '/parts', name: 'parts', component: () => import('./parts/PartsPage.vue') },
    { path: '/parts/:serial', name: 'part', component: () => import('./parts/PartPage.vue') },
    { path: '/plans', name: 'plans', component: () => import('./plans/PlansPage.vue') },
    { path: '/plans/new', name: 'new-plan', component: () => import('./plans/ShapePage.vue') },
    { path: '/plans/drafts/:draft', name: 'draft', component: () => import('./plans/DraftPage.vue') },
    { path: '/plans/:hash', name: 'plan', component: () => import('./plans/PlanPage.vue') },
    { path: '/plans/:hash/joints/:joint', name: 'joint', component: () => import('./plans/JointSheetPage.vue') },
    { path: '/friction', name: 'friction', component: () => import('./friction/FrictionPage.vue') },
    { path: '/friction/tests', name: 'friction-tests', component: () => import('./friction/FrictionTestsPage.vue') },
    { path: '/clamp-load', name: 'clamp-load', component: () => import('./rig/ClampLoadPage.vue') },
    { path: '/calculate/:name?', name: 'calculate', component: () => import('./calculate/CalculatePage.vue') },
    { path: '/practice', name: 'practice', component: () => import('./rig/PracticePage.vue') },
    { path: '/shared/:token', name: 'shared', component: () => import('./sheet/SharedPage.vue') },
    { path: '/own', name: 'own', component: () => import('./people/PeoplePage.vue') },
    {
      path: '/own/instruments/:instrument',
      name: 'instrument',
      component: () => import('./people/InstrumentPage.vue'),
    },
    { path: '/:rest(.*)*', component: () => import('./ui/NothingHere.vue') },
  ],
})
