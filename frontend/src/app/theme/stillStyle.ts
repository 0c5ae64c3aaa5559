/** In place of the package's base of all styles: names and classes stay, nothing is put into the page. */
const nothing = () => ({})
export default {
  name: 'base',
  load: nothing,
  loadCSS: nothing,
  loadStyle: nothing,
  extend(style: object): object {
    return { ...this, ...style }
  },
}
