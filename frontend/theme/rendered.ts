/**
 * The theme as plain CSS, worked out when the screens are built. The package works it out in the browser, anew at every
 * visit and in part at every component that is shown: a fifth of what a slow machine does until the yard stands there.
 *
 * Each component's own style module asks for its CSS (`virtual:theme/button.css`), so that what a screen needs comes with it.
 */
import { css, Theme } from '@primeuix/themes'
import Base from '@primevue/core/base/style'
import type { Plugin } from 'vite'
import { workshop } from './preset.ts'

interface Style {
  name: string
  css?: string
  style?: string
}
interface Part {
  css?: string
  style?: string
}
/** What the package works out of a theme; its own types leave it open. */
interface Engine {
  setTheme(theme: object): void
  getCommon(name: string): { primitive: Part; semantic: Part; global: Part; style?: string }
  getComponent(name: string): Part
  transformCSS(name: string, text: string): string
}
const engine = Theme as unknown as Engine
const base = Base as unknown as Style
/** CSS with the names of tokens turned into those of variables; nothing where there is none. */
const resolved = (text = '') => (css as unknown as (texts: TemplateStringsArray, part: string) => string)`${text}`

const VIRTUAL = /^virtual:theme\/(\w+)\.css$/
const MODULE = /\/primevue\/(\w+)\/style\/index\.mjs$/
const TEXT = /^import \{ style \} from '@primeuix\/styles\/[\w/]+';$/m
const STILL = '@media (prefers-reduced-motion: reduce) { :root { --p-transition-duration: 0s } }'

/** What the theme says for every component. */
function common(): string {
  const { primitive, semantic, global, style } = engine.getCommon('base')
  const variables = [primitive, semantic, global].map((part) => resolved(part.css))
  return [...variables, rules('global', base.style, style), resolved(base.css), STILL].join('\n')
}

/** One component's variables and rules. */
function component(style: Style): string {
  const part = engine.getComponent(style.name)
  return [resolved(style.css), resolved(part.css), rules(style.name, style.style, part.style)].join('\n')
}

function rules(name: string, own?: string, themed?: string): string {
  return engine.transformCSS(`${name}-style`, resolved(own) + resolved(themed))
}

/** Puts the CSS in place of what would work it out. */
export const theme: Plugin = {
  name: 'theme',
  enforce: 'pre',
  buildStart() {
    engine.setTheme({ preset: workshop, options: { darkModeSelector: '.night' } })
  },
  resolveId(id) {
    return VIRTUAL.test(id) ? id : null
  },
  async load(id) {
    const name = VIRTUAL.exec(id)?.[1]
    if (name === undefined) return null
    if (name === 'common') return common()
    const { default: style } = (await import(`primevue/${name}/style`)) as { default: Style }
    return component(style)
  },
  transform(code, id) {
    const name = MODULE.exec(id)?.[1]
    if (name === undefined || !code.includes('@primeuix/styles')) return null
    if (!TEXT.test(code)) this.error(`the style of ${name} is asked for otherwise than it used to be`)
    return code.replace(
      TEXT,
      `import 'virtual:theme/common.css'; import 'virtual:theme/${name}.css'; const style = undefined;`,
    )
  },
}
