/** A dialog gives the focus to its first button once it has opened, unless somebody has begun in it meanwhile. */
import { defineComponent } from 'vue'
import Dialog from 'primevue/dialog'

interface Inner {
  container: HTMLElement | null
}
const given = (Dialog as unknown as { methods: { focus: (this: Inner) => void } }).methods

export default defineComponent({
  extends: Dialog as never,
  methods: {
    focus(this: Inner) {
      if (!this.container?.contains(document.activeElement)) given.focus.call(this)
    },
  },
}) as unknown as typeof Dialog
