import { ref } from 'vue'
import { createRouter, createWebHistory } from 'vue-router'
import { focusPage } from './ui/focus'
import { showTitle } from './ui/pageTitle'
import { t } from './texts'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shop', meta: { title: t('common-engines') }, component: () => import('./shop/ShopPage.vue') },
    { path: '/day', name: 'day', meta: { title: t('common-day') }, component: () => import('./day/DayPage.vue') },
    { path: '/engines/:build', name: 'engine', component: () => import('./engine/EnginePage.vue') },
    { path: '/engines/:build/bench/:operation', name: 'bench', component: () => import('./bench/BenchPage.vue') },
    { path: '/engines/:build/sheet', name: 'sheet', component: () => import('./sheet/SheetPage.vue') },
    { path: '/engines/:build/work-order', name: 'work-order', component: () => import('./papers/WorkOrderPage.vue') },
    { path: '/engines/:build/parts-list', name: 'parts-list', component: () => import('./papers/PartsListPage.vue') },
    { path: '/engines/:build/labels', name: 'labels', component: () => import('./papers/LabelsPage.vue') },
    {
      path: '/parts',
      name: 'parts',
      meta: { title: t('common-parts') },
      component: () => import('./parts/PartsPage.vue'),
    },
    { path: '/parts/:serial', name: 'part', component: () => import('./parts/PartPage.vue') },
    {
      path: '/plans',
      name: 'plans',
      meta: { title: t('common-plans') },
      component: () => import('./plans/PlansPage.vue'),
    },
    {
      path: '/plans/new',
      name: 'new-plan',
      meta: { title: t('common-new-plan') },
      component: () => import('./plans/ShapePage.vue'),
    },
    { path: '/plans/drafts/:draft', name: 'draft', component: () => import('./plans/DraftPage.vue') },
    { path: '/plans/:hash', name: 'plan', component: () => import('./plans/PlanPage.vue') },
    { path: '/plans/:hash/joints/:joint', name: 'joint', component: () => import('./plans/JointSheetPage.vue') },
    {
      path: '/tools',
      name: 'tools',
      meta: { title: t('common-tools') },
      component: () => import('./tools/ToolsPage.vue'),
    },
    {
      path: '/friction',
      name: 'friction',
      meta: { title: t('common-friction') },
      component: () => import('./friction/FrictionPage.vue'),
    },
    {
      path: '/friction/tests',
      name: 'friction-tests',
      meta: { title: t('common-friction-tests') },
      component: () => import('./friction/FrictionTestsPage.vue'),
    },
    {
      path: '/clamp-load',
      name: 'clamp-load',
      meta: { title: t('common-clamp-load') },
      component: () => import('./rig/ClampLoadPage.vue'),
    },
    { path: '/calculate/:name?', name: 'calculate', component: () => import('./calculate/CalculatePage.vue') },
    {
      path: '/practice',
      name: 'practice',
      meta: { title: t('common-practice') },
      component: () => import('./rig/PracticePage.vue'),
    },
    { path: '/shared/:token', name: 'shared', component: () => import('./sheet/SharedPage.vue') },
    {
      path: '/own',
      name: 'own',
      meta: { title: t('common-shop-settings') },
      component: () => import('./people/PeoplePage.vue'),
    },
    {
      path: '/own/instruments/:instrument',
      name: 'instrument',
      component: () => import('./people/InstrumentPage.vue'),
    },
    { path: '/help', name: 'help', meta: { title: t('common-help') }, component: () => import('./help/HelpPage.vue') },
    {
      path: '/about',
      name: 'about',
      meta: { title: t('common-about-rigore') },
      component: () => import('./help/AboutPage.vue'),
    },
    {
      path: '/:rest(.*)*',
      meta: { title: t('common-page-not-found') },
      component: () => import('./ui/NothingHere.vue'),
    },
  ],
})

// Pages of one engine, plan or part give their own title once they know its name.
router.afterEach((to) => showTitle(to.meta.title))

/** The page that could not be opened, since a part of it is not here and there is no connection; empty where none. */
export const unopened = ref('')
router.onError((_, to) => (unopened.value = to.meta.title ?? t('app-that-page')))
router.afterEach((_to, _from, failure) => {
  if (!failure) unopened.value = ''
})

// Whoever goes to another page is on it: the focus is not left on the link that is gone or far above.
router.afterEach((to, from) => {
  if (from.matched.length && to.path !== from.path) focusPage()
})

declare module 'vue-router' {
  interface RouteMeta {
    /** What the tab of the browser is called, where that is the same for every page of the route. */
    title?: string
  }
}
