import { createRouter, createWebHistory } from 'vue-router'
import ProjectFrame from './shell/ProjectFrame.vue'

/** Every place has a URL: `/p/:project/board?at=module:…`. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./stages/projects/ProjectsPage.vue') },
    { path: '/accounts', component: () => import('./stages/accounts/AccountsPage.vue') },
    {
      path: '/p/:project',
      component: ProjectFrame,
      children: [
        { path: '', redirect: (to) => `${to.path.replace(/\/$/, '')}/overview` },
        {
          path: 'overview',
          name: 'overview',
          component: () => import('./stages/overview/OverviewStage.vue'),
        },
        {
          path: 'shelf',
          children: [
            { path: '', name: 'shelf', component: () => import('./stages/shelf/ShelfStage.vue') },
            {
              path: 'sheet',
              name: 'sheet',
              component: () => import('./stages/shelf/SheetForm.vue'),
            },
            { path: ':file', name: 'file', component: () => import('./stages/shelf/FilePage.vue') },
          ],
        },
        {
          path: 'board',
          name: 'board',
          component: () => import('./stages/board/BoardStage.vue'),
        },
        {
          path: 'ledger',
          name: 'ledger',
          component: () => import('./stages/ledger/LedgerStage.vue'),
        },
        {
          path: 'parameters',
          name: 'parameters',
          component: () => import('./stages/parameters/ParametersPage.vue'),
        },
        {
          path: 'layout',
          name: 'layout',
          component: () => import('./stages/layout/DataLayoutPage.vue'),
        },
        {
          path: 'devices',
          name: 'devices',
          component: () => import('./stages/devices/DevicesPage.vue'),
        },
        {
          path: 'ports',
          name: 'ports',
          component: () => import('./stages/ports/PortsPage.vue'),
        },
        { path: 'range', name: 'range', component: () => import('./stages/range/RangeBench.vue') },
        { path: 'list', name: 'list', component: () => import('./stages/list/ListImport.vue') },
        {
          path: 'memory',
          name: 'memory',
          component: () => import('./stages/memory/MemoryStage.vue'),
        },
        {
          path: 'networks',
          name: 'networks',
          component: () => import('./stages/networks/NetworksStage.vue'),
        },
        {
          path: 'rehearsal',
          name: 'rehearsal',
          component: () => import('./stages/rehearsal/RehearsalStage.vue'),
        },
        {
          path: 'history',
          name: 'history',
          component: () => import('./stages/history/HistoryPage.vue'),
        },
        {
          path: 'handover',
          name: 'handover',
          component: () => import('./stages/handover/HandoverStage.vue'),
        },
      ],
    },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})
