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
      ? { path: '/', component: () => import('./pages/PracticePage.vue'), meta: { title: 'Practice' } }
      : { path: '/', component: RackPage, meta: { title: 'Rack' } },
    ...(practice
      ? [
          {
            path: '/engines/:engine/debrief',
            component: () => import('./pages/DebriefPage.vue'),
            props: true,
            meta: { title: 'Debrief' },
          },
        ]
      : []),
    { path: '/new-engine', component: () => import('./pages/EngineFormPage.vue'), meta: { title: says('new-engine') } },
    {
      path: '/engines/:engine/edit',
      component: () => import('./pages/EngineFormPage.vue'),
      props: true,
      meta: { title: 'Figures' },
    },
    {
      path: '/engines/:engine',
      component: () => import('./pages/EnginePage.vue'),
      props: true,
      meta: { title: 'Engine' },
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
      meta: { title: 'Inspection' },
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
      meta: { title: 'Record' },
    },
    { path: '/record', component: () => import('./pages/RecordPage.vue'), meta: { title: 'Record' } },
    { path: '/outbox', component: () => import('./pages/OutboxPage.vue'), meta: { title: 'Waiting' } },
    {
      path: '/engines/:engine/papers',
      component: () => import('./pages/PapersPage.vue'),
      props: true,
      meta: { title: 'Papers' },
    },
    { path: '/shop', component: () => import('./pages/ShopPage.vue'), meta: { title: 'Shop' } },
    { path: '/import', component: () => import('./pages/ImportPage.vue'), meta: { title: says('import') } },
    { path: '/copies', component: () => import('./pages/CopiesPage.vue'), meta: { title: 'Copies' } },
    { path: '/help/:page?', component: () => import('./pages/HelpPage.vue'), props: true, meta: { title: 'Help' } },
    { path: '/devices', component: () => import('./pages/DevicesPage.vue'), meta: { title: 'Devices' } },
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
      meta: { title: 'Seat', bare: true },
    },
    { path: '/diary', component: () => import('./pages/DiaryPage.vue'), meta: { title: 'Diary' } },
    { path: '/compare', component: () => import('./pages/ComparePage.vue'), meta: { title: 'Compare' } },
    { path: '/gauges', component: () => import('./pages/GaugesPage.vue'), meta: { title: 'Gauges' } },
    { path: '/rules', component: () => import('./pages/RulesPage.vue'), meta: { title: 'Rules' } },
    { path: '/protocols', component: () => import('./pages/ProtocolsPage.vue'), meta: { title: 'Protocols' } },
    { path: '/sums/:sum?', component: () => import('./pages/SumsPage.vue'), meta: { title: 'Sums' } },
    { path: '/:rest(.*)', component: () => import('./pages/NowherePage.vue'), meta: { title: says('nothing-here') } },
  ],
  scrollBehavior: () => ({ top: 0 }),
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Braxel`
})
