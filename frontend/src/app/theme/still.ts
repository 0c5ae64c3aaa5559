/**
 * In place of the package's style engine: the CSS is there already (`theme/rendered.ts`), nothing is left to work out.
 */
const nothing = () => ({})
export const Theme = { isStyleNameLoaded: () => true, setLoadedStyleName: nothing, setTheme: nothing }
export const ThemeService = { on: nothing, off: nothing, emit: nothing, clear: nothing }
export const $dt = nothing
