import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { defineConfig, type Plugin } from 'vite'

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
  plugins: [vue(), tailwindcss(), compressed()],
  resolve: { alias: { '@': join(import.meta.dirname, 'src') } },
  build: { target: 'es2022', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:8314', headers: { origin: 'http://127.0.0.1:8314' }, changeOrigin: true } } },
})
