/** The workshop-drawing theme as PrimeVue tokens, day and night. */
import { definePreset } from '@primeuix/themes'
import base from '@primeuix/themes/aura/base'
import button from '@primeuix/themes/aura/button'
import checkbox from '@primeuix/themes/aura/checkbox'
import datatable from '@primeuix/themes/aura/datatable'
import dialog from '@primeuix/themes/aura/dialog'
import drawer from '@primeuix/themes/aura/drawer'
import inputtext from '@primeuix/themes/aura/inputtext'
import paginator from '@primeuix/themes/aura/paginator'
import select from '@primeuix/themes/aura/select'
import selectbutton from '@primeuix/themes/aura/selectbutton'
import textarea from '@primeuix/themes/aura/textarea'
import togglebutton from '@primeuix/themes/aura/togglebutton'

const copper = {
  50: '#FBF3EE',
  100: '#F5E3D8',
  200: '#EBC8B3',
  300: '#DFA886',
  400: '#DB8A58',
  500: '#A4552A',
  600: '#934A23',
  700: '#7C3E1D',
  800: '#613118',
  900: '#472412',
  950: '#2B150A',
}

// Only what is used of the theme: the whole of it is three times the size.
const parts = {
  ...base,
  components: {
    button,
    checkbox,
    datatable,
    dialog,
    drawer,
    inputtext,
    paginator,
    select,
    selectbutton,
    textarea,
    togglebutton,
  },
}

export const workshop = definePreset(parts, {
  primitive: { borderRadius: { xs: '2px', sm: '2px', md: '3px', lg: '3px', xl: '4px' } },
  semantic: {
    primary: copper,
    focusRing: { width: '2px', style: 'solid', color: '{primary.color}', offset: '1px', shadow: 'none' },
    formField: {
      paddingX: '0.5rem',
      paddingY: '0.3rem',
      borderRadius: '3px',
      shadow: 'none',
      focusRing: { width: '2px', style: 'solid', color: '{primary.color}', offset: '0', shadow: 'none' },
    },
    overlay: {
      select: { shadow: 'none' },
      popover: { shadow: 'none' },
      modal: { shadow: 'none' },
      navigation: { shadow: 'none' },
    },
    colorScheme: {
      light: {
        primary: { color: '#A4552A', contrastColor: '#FFFFFF', hoverColor: '#934A23', activeColor: '#7C3E1D' },
        surface: {
          0: '#FBF9F4',
          50: '#F4F1EA',
          100: '#EFEAE0',
          200: '#E4DED2',
          300: '#D8D2C5',
          400: '#A8A395',
          500: '#7C7B74',
          600: '#5A5E5E',
          700: '#43494C',
          800: '#2E3438',
          900: '#20262B',
          950: '#15191B',
        },
        text: { color: '#20262B', mutedColor: '#5A5E5E' },
        content: { background: '#FBF9F4', borderColor: '#D8D2C5' },
        formField: { background: '#F4F1EA', borderColor: '#B9B2A4', color: '#20262B', placeholderColor: '#5A5E5E' },
      },
      dark: {
        primary: { color: '#DB8A58', contrastColor: '#15191B', hoverColor: '#E6A077', activeColor: '#EBB391' },
        surface: {
          0: '#E6E2D8',
          50: '#D3CFC6',
          100: '#BDBBB4',
          200: '#A6ACAB',
          300: '#868C8C',
          400: '#5F6668',
          500: '#4A5153',
          600: '#3D4446',
          700: '#363C3E',
          800: '#262C2E',
          900: '#1C2123',
          950: '#15191B',
        },
        text: { color: '#E6E2D8', mutedColor: '#A6ACAB' },
        content: { background: '#1C2123', borderColor: '#363C3E' },
        formField: { background: '#15191B', borderColor: '#5F6668', color: '#E6E2D8', placeholderColor: '#A6ACAB' },
      },
    },
  },
})
