import { fileURLToPath } from 'node:url'

import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  base: '/static/',
  plugins: [tailwindcss(), svelte()],
  build: { modulePreload: { polyfill: false }, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
  resolve: { alias: { $lib: fileURLToPath(new URL('./src/lib', import.meta.url)) } },
  // a busy machine is slow, not wrong
  test: { include: ['src/**/*.test.ts'], testTimeout: 60_000 },
})
