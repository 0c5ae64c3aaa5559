import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

/** The list of the program's files, for a device that holds it without signal. */
const files: Plugin = {
  name: 'files',
  generateBundle(_, bundle) {
    const names = Object.keys(bundle).filter((name) => name.startsWith('assets/'))
    const source = JSON.stringify([...names.map((name) => `/${name}`), '/mark.svg'])
    this.emitFile({ type: 'asset', fileName: 'files.json', source })
  },
}

export default defineConfig({
  // A space between two words stays a space, however the layout of the source breaks there.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), files],
  resolve: {
    alias: { 'primevue/ripple': fileURLToPath(new URL('src/app/theme/noRipple.ts', import.meta.url)) },
  },
  build: {
    outDir: '../src/olvask/web/app',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8127' } },
})
