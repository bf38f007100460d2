import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { defineConfig, type Plugin } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

/** Lays a compressed copy beside every text file of the build, so that the server need not compress. */
function compressed(): Plugin {
  return {
    name: 'compressed',
    apply: 'build',
    closeBundle() {
      const dist = join(import.meta.dirname, 'dist')
      for (const name of readdirSync(dist, { recursive: true, encoding: 'utf8' })) {
        if (!/\.(js|css|html|svg|webmanifest)$/.test(name)) continue
        const file = join(dist, name)
        writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: 9 }))
      }
    },
  }
}

export default defineConfig({
  plugins: [
    vue(),
    tailwindcss(),
    // The app itself is kept in the browser, and the last answers too, so that a sheet opens where the shop's network
    // does not reach.
    VitePWA({
      registerType: 'prompt',
      injectRegister: false,
      manifest: {
        name: 'Braxel',
        short_name: 'Braxel',
        description: 'A logbook that understands engines',
        theme_color: '#f5f1e8',
        background_color: '#f5f1e8',
        display: 'standalone',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        // The first visit, too, is one that may be cut off.
        clientsClaim: true,
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallbackDenylist: [/^(\/practice)?\/api\//, /^\/calendar\//],
        runtimeCaching: [
          {
            urlPattern: ({ url, request }) =>
              request.method === 'GET' &&
              url.pathname.startsWith('/api/') &&
              !/\/changes$|\.(json|ics|pdf)$|^\/api\/(export|copies|sync|gauge|door|import)/.test(url.pathname),
            handler: 'NetworkFirst',
            // Another name whenever the answers' shape changes: what an older page was told this one cannot read.
            options: { cacheName: 'answers-16', networkTimeoutSeconds: 4, expiration: { maxEntries: 300 } },
          },
        ],
      },
    }),
    compressed(),
  ],
  resolve: { alias: { '@': join(import.meta.dirname, 'src') } },
  build: { target: 'es2022', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: {
    proxy: {
      '^(/practice)?/api/': {
        target: 'http://127.0.0.1:8314',
        headers: { origin: 'http://127.0.0.1:8314' },
        changeOrigin: true,
      },
    },
  },
})
