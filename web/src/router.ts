import { createRouter, createWebHistory } from 'vue-router'
import { base, practice } from './api/base'
import RackPage from './pages/RackPage.vue'
import { sayer } from '@/words/say'
import texts from '@/words/en/parts.json'

const says = sayer(texts)

export const router = createRouter({
  history: createWebHistory(base),
  routes: [
    practice
      ? { path: '/', component: () => import('./pages/PracticePage.vue'), meta: { title: says('practice') } }
      : { path: '/', component: RackPage, meta: { title: says('rack') } },
    ...(practice
      ? [
          {
            path: '/engines/:engine/debrief',
            component: () => import('./pages/DebriefPage.vue'),
            props: true,
            meta: { title: says('debrief') },
          },
        ]
      : []),
    { path: '/new-engine', component: () => import('./pages/EngineFormPage.vue'), meta: { title: says('new-engine') } },
    {
      path: '/engines/:engine/edit',
      component: () => import('./pages/EngineFormPage.vue'),
      props: true,
      meta: { title: says('figures') },
    },
    {
      path: '/engines/:engine',
      component: () => import('./pages/EnginePage.vue'),
      props: true,
      meta: { title: says('engine') },
    },
    {
      path: '/engines/:engine/tests/:session/:step(prepare|dry|wet|leak-down|look|findings|put-back)?',
      component: () => import('./pages/SheetPage.vue'),
      props: true,
      meta: { title: says('run-sheet'), bare: true },
    },
    {
      path: '/engines/:engine/tests/:session/inspection',
      component: () => import('./pages/InspectionPage.vue'),
      props: true,
      meta: { title: says('inspection') },
    },
    {
      path: '/engines/:engine/tests/:session/before-opening',
      component: () => import('./pages/InspectionPage.vue'),
      props: (route) => ({ ...route.params, after: true }),
      meta: { title: says('before-opening') },
    },
    {
      path: '/engines/:engine/wheel',
      component: () => import('./pages/WheelPage.vue'),
      props: true,
      meta: { title: says('crank-wheel') },
    },
    {
      path: '/engines/:engine/record',
      component: () => import('./pages/RecordPage.vue'),
      props: true,
      meta: { title: says('history') },
    },
    { path: '/record', component: () => import('./pages/RecordPage.vue'), meta: { title: says('history') } },
    { path: '/outbox', component: () => import('./pages/OutboxPage.vue'), meta: { title: says('waiting-2') } },
    {
      path: '/engines/:engine/papers',
      component: () => import('./pages/PapersPage.vue'),
      props: true,
      meta: { title: says('papers') },
    },
    { path: '/units', component: () => import('./pages/UnitsPage.vue'), meta: { title: says('units-and-dates') } },
    { path: '/shop', component: () => import('./pages/ShopPage.vue'), meta: { title: says('shop') } },
    { path: '/import', component: () => import('./pages/ImportPage.vue'), meta: { title: says('import') } },
    { path: '/copies', component: () => import('./pages/CopiesPage.vue'), meta: { title: says('backups') } },
    {
      path: '/help/:page?',
      component: () => import('./pages/HelpPage.vue'),
      props: true,
      meta: { title: says('help') },
    },
    { path: '/devices', component: () => import('./pages/DevicesPage.vue'), meta: { title: says('devices') } },
    {
      path: '/engines/:engine/old-tests',
      component: () => import('./pages/OldTestsPage.vue'),
      props: true,
      meta: { title: says('old-tests') },
    },
    {
      path: '/seat/:engine?',
      component: () => import('./pages/SeatPage.vue'),
      props: true,
      meta: { title: says('seat'), bare: true },
    },
    { path: '/season', component: () => import('./pages/SeasonPage.vue'), meta: { title: says('season') } },
    { path: '/diary', component: () => import('./pages/DiaryPage.vue'), meta: { title: says('diary') } },
    { path: '/compare', component: () => import('./pages/ComparePage.vue'), meta: { title: says('compare') } },
    { path: '/gauges', component: () => import('./pages/GaugesPage.vue'), meta: { title: says('gauges') } },
    { path: '/rules', component: () => import('./pages/RulesPage.vue'), meta: { title: says('rules') } },
    { path: '/protocols', component: () => import('./pages/ProtocolsPage.vue'), meta: { title: says('protocols') } },
    { path: '/sums/:sum?', component: () => import('./pages/SumsPage.vue'), meta: { title: says('sums') } },
    { path: '/:rest(.*)', component: () => import('./pages/NowherePage.vue'), meta: { title: says('nothing-here') } },
  ],
  scrollBehavior: () => ({ top: 0 }),
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Braxel`
})
