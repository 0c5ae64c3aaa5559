import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'
import { theme } from './theme/rendered.ts'

/** The list of the program's files, for a device that holds it without signal. */
const files: Plugin = {
  name: 'files',
  generateBundle(_, bundle) {
    const names = Object.keys(bundle).filter((name) => name.startsWith('assets/'))
    const source = JSON.stringify([...names.map((name) => `/${name}`), '/mark.svg'])
    this.emitFile({ type: 'asset', fileName: 'files.json', source })
  },
}

/** Scripts of which a first visit calls nearly all: the browser is to compile them whole, beside its main thread. */
const WHOLE = ['kit', 'index', 'JobView']
const whole: Plugin = {
  name: 'whole',
  generateBundle: {
    order: 'post',
    handler(_, bundle) {
      for (const made of Object.values(bundle))
        if (made.type === 'chunk' && WHOLE.includes(made.name)) made.code = `//# allFunctionsCalledOnLoad\n${made.code}`
    },
  },
}

/** The typefaces of every page, asked for beside its scripts: nothing is laid out first in another one. */
const FACES = /^assets\/(barlow-latin-[456]00-normal|primeicons)-.+\.woff2$/
const faces: Plugin = {
  name: 'faces',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle }) =>
      Object.keys(bundle ?? {})
        .filter((name) => FACES.test(name))
        .map((name) => ({
          tag: 'link',
          attrs: { rel: 'preload', as: 'font', type: 'font/woff2', crossorigin: true, href: `/${name}` },
          injectTo: 'head',
        })),
  },
}

/** What a job's page and others need alike: one piece, for a dozen small ones cost a slow machine a tenth of a second. */
const DESK = /\/src\/(ui\/(?!prime\/)|job\/|api\/|charts\/)|\/primevue\/(select|checkbox)\/|\/d3-(shape|scale)\//

const ours = (name: string) => fileURLToPath(new URL(`src/app/theme/${name}.ts`, import.meta.url))

export default defineConfig({
  // A space between two words stays a space, however the layout of the source breaks there.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), files, theme, whole, faces],
  resolve: {
    alias: {
      'primevue/ripple': ours('noRipple'),
      '@primeuix/styled': ours('still'),
      '@primevue/core/base/style': ours('stillStyle'),
    },
  },
  build: {
    outDir: '../src/olvask/web/app',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    rolldownOptions: {
      output: {
        // What every visit needs comes in two pieces: each request costs a slow machine as much as ten kilobytes.
        codeSplitting: {
          groups: [
            { name: 'kit', tags: ['$initial'], test: /node_modules/, priority: 2 },
            { name: 'start', tags: ['$initial'], priority: 1 },
            { name: 'desk', minShareCount: 2, test: DESK },
          ],
        },
      },
    },
  },
  // In development too what these packages bring goes through the plugins.
  optimizeDeps: { exclude: ['primevue', '@primevue/core'] },
  server: { proxy: { '/api': 'http://127.0.0.1:8127' } },
})
