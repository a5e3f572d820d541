import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./bench/BenchView.vue') },
    { path: '/new', component: () => import('./start/StartView.vue') },
    { path: '/shop', component: () => import('./own/ShopHome.vue') },
    { path: '/shop/bits', component: () => import('./own/RackPage.vue') },
    { path: '/shop/woods', component: () => import('./own/WoodsPage.vue') },
  { path: '/shop/machines/new', component: () => import('./own/MachinePick.vue') },
    { path: '/shop/machines/:machine', component: () => import('./own/MachineView.vue') },
    { path: '/signed-out', component: () => import('./bench/SignedOut.vue') },
    { path: '/routes/:id(\\d+)', redirect: (to) => `/routes/${String(to.params.id)}/route` },
    { path: '/routes/:id(\\d+)/measure', component: () => import('./measure/MeasureView.vue') },
    { path: '/routes/:id(\\d+)/neck', component: () => import('./neck/NeckPage.vue') },
    { path: '/routes/:id(\\d+)/board', component: () => import('./board/BoardPage.vue') },
    { path: '/routes/:id(\\d+)/layout', component: () => import('./layout/LayoutView.vue') },
    { path: '/routes/:id(\\d+)/blank', component: () => import('./blank/BlankView.vue') },
    { path: '/routes/:id(\\d+)/shop', component: () => import('./shop/ShopView.vue') },
    { path: '/routes/:id(\\d+)/bits', component: () => import('./bits/BitsView.vue') },
    { path: '/routes/:id(\\d+)/hold', component: () => import('./hold/HoldView.vue') },
    { path: '/routes/:id(\\d+)/route', component: () => import('./route/RouteView.vue') },
    { path: '/routes/:id(\\d+)/run', component: () => import('./run/RunView.vue') },
    { path: '/at-machine/:run(\\d+)', component: () => import('./at_machine/AtMachineView.vue') },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})
