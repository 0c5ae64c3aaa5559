import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  // A space between two words stays a space, however the layout of the source breaks there.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
  build: {
    outDir: '../src/olvask/web/app',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8127' } },
})
