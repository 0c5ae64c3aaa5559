<script setup lang="ts">
/** One line of the sheet: label, value large, what it was, why; two ticks, and what the unit shows instead. */
import { computed, ref, useId } from 'vue'
import type { SheetLine } from '../../api/types'
import { asThere, date, said } from '../../ui/locale'
import { sameValue, useKeyed } from './keyed'

const props = defineProps<{ line: SheetLine; number: number; open: boolean }>()
const { of, key, read } = useKeyed()
const id = useId()
const done = computed(() => of(props.line.key))
const otherwise = ref(false)
const seen = computed(() => done.value?.seen ?? '')
const wrong = computed(() => seen.value !== '' && !sameValue(seen.value, props.line.value))
const stale = computed(
  () => done.value?.keyed === true && props.line.do === 'key' && !sameValue(done.value.value, props.line.value),
)
const typing = computed(() => otherwise.value || wrong.value)
const signed = computed(() => {
  if (!done.value?.at) return ''
  const when = new Date(done.value.at)
  const day = Number.isNaN(when.getTime()) ? '' : date(when)
  return [done.value.by, day].filter(Boolean).join(', ')
})
function tickRead(): void {
  otherwise.value = false
  read(props.line, seen.value === '' ? props.line.value : '')
}
/** What is being typed; the row is drawn anew by every answer, which must not take it away. */
const text = ref<string | null>(null)
function keep(event: Event): void {
  text.value = (event.target as HTMLInputElement).value
}
function typed(event: Event): void {
  read(props.line, (event.target as HTMLInputElement).value)
  text.value = null
}
</script>

<template>
  <li class="row" :class="{ open, wrong, stale, done: line.do !== 'key' }" :data-line="line.key">
    <span class="number" aria-hidden="true">{{ number }}</span>
    <span class="label">{{ line.label }}</span>
    <span class="value">{{ asThere(line.value) }}</span>
    <span class="was">{{
      line.was && line.was !== 'not known' ? `was ${asThere(line.was).replace(/(\d) /g, '$1\u00a0')}` : ''
    }}</span>
    <button
      type="button"
      class="box"
      role="checkbox"
      :aria-checked="done?.keyed === true"
      :aria-label="`${line.label} ${asThere(line.value)} ${line.do === 'key' ? 'keyed' : 'done'}`"
      @click="key(line)"
    >
      <i aria-hidden="true">{{ done?.keyed ? (stale ? '▲' : '✓') : '' }}</i><small aria-hidden="true">{{
        line.do === 'key' ? 'keyed' : 'done'
      }}</small>
    </button>
    <button
      v-if="line.do === 'key' && line.last"
      type="button"
      class="box"
      role="checkbox"
      :aria-checked="seen !== '' && !wrong"
      :aria-label="`${line.label} ${asThere(line.value)} read back`"
      @click="tickRead"
    >
      <i aria-hidden="true">{{ seen === '' ? '' : wrong ? '■' : '✓' }}</i><small aria-hidden="true">read back</small>
    </button>
    <div class="why">
      <span>{{ line.why }}</span>
      <span v-if="line.shows.length">
        · {{ line.shows.slice(0, 3).join(', ') }} appear{{ line.shows.length === 1 ? 's' : '' }}</span
      >
      <span v-for="hint in line.hints" :key="hint"> · {{ hint }}</span>
      <span v-if="line.consequence" class="caution"> ▲ {{ said(line.consequence) }}</span>
      <span v-if="stale" class="caution"> ▲ keyed to {{ asThere(done?.value ?? '') }} before</span>
      <span v-if="signed" class="signed"> · {{ signed }}</span>
      <button
        v-if="line.do === 'key' && line.last && !typing && (open || done?.keyed)"
        type="button"
        class="link"
        @click="otherwise = true"
      >
        reads otherwise
      </button>
      <label v-if="typing" :for="id" class="seen"
        >it shows
        <input
          :id="id"
          :value="text ?? (wrong ? seen : '')"
          type="text"
          autocomplete="off"
          :aria-invalid="wrong"
          :placeholder="asThere(line.value)"
          @input="keep"
          @change="typed"
        /><b v-if="wrong" class="stop">■ not {{ asThere(line.value) }}</b></label
      >
    </div>
  </li>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 20px minmax(96px, 1fr) auto minmax(0, 78px) 42px 56px;
  column-gap: 6px;
  align-items: center;
  padding: 5px 6px 4px 8px;
  border-bottom: 1px solid var(--hair);
  border-left: 3px solid transparent;
}
.row.open {
  border-left-color: var(--copper);
  background: var(--copper-wash);
}
.number,
.was,
.why {
  color: var(--muted);
}
.label {
  font-weight: 600;
}
.value {
  font-size: var(--head);
  font-weight: 600;
  white-space: nowrap;
}
.was {
  font-size: var(--text);
}
.why {
  grid-column: 2 / 5;
  font-size: var(--text);
  line-height: 1.35;
}
.box {
  grid-row: 1 / 3;
  grid-column: 5;
  display: grid;
  justify-items: center;
  align-content: center;
  gap: 1px;
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--muted);
  padding: 0;
  cursor: pointer;
}
.box + .box {
  grid-column: 6;
}
.box i {
  width: 20px;
  height: 20px;
  border: 1.5px solid var(--edge);
  border-radius: 2px;
  font-style: normal;
  line-height: 18px;
  text-align: center;
  color: var(--paper);
  background: var(--panel);
}
.box[aria-checked='true'] i {
  background: var(--verdigris);
  border-color: var(--verdigris);
}
.stale .box[aria-checked='true'] i {
  background: var(--ochre);
  border-color: var(--ochre);
}
.wrong .box:last-of-type i {
  background: var(--madder);
  border-color: var(--madder);
}
.box small {
  font-size: var(--small);
}
.seen {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.seen input {
  width: 84px;
  min-height: 28px;
}
.done .label {
  color: var(--copper);
}
.done .value,
.done .was {
  display: none;
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 18px minmax(0, 1fr) auto 50px 58px;
  }
  .was {
    display: none;
  }
  .why {
    grid-column: 2 / 4;
  }
  .box {
    grid-column: 4;
  }
  .box + .box {
    grid-column: 5;
  }
  .box i {
    width: 28px;
    height: 28px;
    line-height: 26px;
  }
  .seen input {
    min-height: 44px;
  }
  .why .link {
    min-height: 44px;
  }
}
</style>
