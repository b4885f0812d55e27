/** Builds the service worker beside the page that was built before it, with the list of that page's files. */
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

import { defineConfig } from 'vite'

const BUILT = fileURLToPath(new URL('./dist', import.meta.url))
/** A name that says what is in it already. */
const NAMED = /^assets\/.+-[\w-]{8}\.\w+$/

const revision = (name: string) =>
  NAMED.test(name)
    ? null
    : createHash('sha256')
        .update(readFileSync(`${BUILT}/${name}`))
        .digest('hex')
        .slice(0, 16)

const files = readdirSync(BUILT, { recursive: true, withFileTypes: true })
  .filter((one) => one.isFile() && !one.name.startsWith('.') && one.name !== 'sw.js')
  .map((one) => `${one.parentPath}/${one.name}`.slice(BUILT.length + 1))
  .sort()
  .map((name) => ({
    url: name === 'index.html' ? '/' : `/static/${name}`,
    revision: revision(name),
  }))

export default defineConfig({
  define: { FILES: JSON.stringify(files), 'process.env.NODE_ENV': '"production"' },
  publicDir: false,
  build: {
    outDir: 'dist',
    emptyOutDir: false,
    modulePreload: false,
    rollupOptions: {
      input: fileURLToPath(new URL('./src/worker/sw.ts', import.meta.url)),
      output: { format: 'iife', entryFileNames: 'sw.js' },
    },
  },
})
