<script setup lang="ts">
/** The rules to key into the unit: a row each for starting, stopping and the battery guard. */
import { fixed } from '../../ui/locale'
import { computed } from 'vue'
import { useJob } from '../../job/store'
import { fieldAt } from '../../ui/fields'
import NumberField from '../../ui/NumberField.vue'

const job = useJob()
const wake = computed(() => job.assessment?.wake ?? null)
const activation = computed(() => job.design?.activation)

interface Row {
  path: string
  held: string
  glyph: string
  /** A rule after the first can be taken out. */
  list: 'start_rules' | 'stop_rules' | ''
  at: number
}
const rows = computed((): Row[] => {
  const starts = activation.value?.start_rules ?? []
  const stops = activation.value?.stop_rules ?? []
  const rule = (list: 'start_rules' | 'stop_rules', at: number, volts: string, glyph: string): Row => {
    const base = `activation.${list}.${at}`
    return { path: `${base}.${volts}`, held: `${base}.held_s`, glyph, list: at > 0 ? list : '', at }
  }
  const guard = 'activation.guard'
  return [
    ...starts.map((_, at) => rule('start_rules', at, 'at_least_v', '▲')),
    ...stops.map((_, at) => rule('stop_rules', at, 'below_v', '▼')),
    { path: `${guard}.off_below_v`, held: `${guard}.held_s`, glyph: '■', list: '', at: 0 },
    { path: `${guard}.back_at_v`, held: '', glyph: '◇', list: '', at: 0 },
  ]
})
/** Rules that do not act with the ways chosen are not keyed in. */
const acting = computed(() => rows.value.filter((row) => markAt(row.path)?.acts !== false || job.errors.has(row.path)))
const label = (path: string) => fieldAt(job.design, path).label
const markAt = (path: string) => wake.value?.marks.find((item) => item.path === path)
const standing = (path: string) => fixed(markAt(path)?.value_v, 2)
const anySet = computed(() =>
  rows.value.some((row) => row.path.startsWith('activation.') && job.valueAt(row.path) !== null),
)
function propose(): void {
  const { start_rules = [], stop_rules = [], guard } = activation.value ?? {}
  job.change([
    { path: 'activation.start_rules', value: start_rules.slice(0, 1).map((rule) => ({ ...rule, at_least_v: null })) },
    { path: 'activation.stop_rules', value: stop_rules.slice(0, 1).map((rule) => ({ ...rule, below_v: null })) },
    { path: 'activation.guard', value: { ...guard, off_below_v: null, back_at_v: null } },
  ])
}
function drop(row: Row): void {
  if (row.list === '') return
  const kept = (activation.value?.[row.list] ?? []) as readonly unknown[]
  job.change([{ path: `activation.${row.list}`, value: kept.filter((_, at) => at !== row.at) }])
}
const moreStarts = computed(() => {
  const at = wake.value
  return at !== null && at.voltage_used && (activation.value?.start_rules?.length ?? 0) < at.start_rules_most
})
const moreStops = computed(() => {
  const at = wake.value
  return at !== null && at.voltage_used && (activation.value?.stop_rules?.length ?? 0) < at.stop_rules_most
})
const quick = computed(() => wake.value?.quick_start_proposal_v ?? null)
function addStart(): void {
  const last = markAt('activation.start_rules.0.at_least_v')?.value_v ?? 13.3
  const volts = quick.value ?? Math.round((last + 4 * (wake.value?.step_v ?? 0.05)) * 100) / 100
  const held_s = quick.value === null ? 10 : 2
  job.change([
    {
      path: 'activation.start_rules',
      value: [...(activation.value?.start_rules ?? []), { at_least_v: volts, held_s }],
    },
  ])
}
function addStop(): void {
  const last = markAt('activation.stop_rules.0.below_v')?.value_v ?? 12.8
  const volts = Math.round((last - 4 * (wake.value?.step_v ?? 0.05)) * 100) / 100
  job.change([
    { path: 'activation.stop_rules', value: [...(activation.value?.stop_rules ?? []), { below_v: volts, held_s: 5 }] },
  ])
}
</script>

<template>
  <section class="panel" aria-label="Thresholds and delays">
    <div class="bench-head">
      <h2>To key in</h2>
      <span class="aside" title="Faint: proposed. Type over it, or drag its mark.">faint: proposed</span
      ><button v-if="anySet" type="button" class="link" @click="propose">propose all</button>
    </div>
    <div v-for="row in acting" :key="row.path" class="rule" :class="markAt(row.path)?.verdict">
      <span class="rule-name"
        ><span class="glyph" aria-hidden="true">{{ row.glyph }}</span> {{ label(row.path) }}</span
      >
      <NumberField bare :path="row.path" :fallback="standing(row.path)" />
      <NumberField v-if="row.held" bare :path="row.held" />
      <button
        v-if="row.list"
        type="button"
        class="link"
        :aria-label="`take out ${label(row.path)}, rule ${row.at + 1}`"
        @click="drop(row)"
      >
        ✕
      </button>
    </div>
    <p v-if="acting.length < rows.length" class="muted">Volts neither start nor stop it here: the signal does.</p>
    <p class="more">
      <button
        v-if="moreStarts"
        type="button"
        class="link"
        :title="
          quick === null
            ? ''
            : 'Reached at the higher running volts only; at the lower the start battery is given its delay'
        "
        @click="addStart"
      >
        {{ quick === null ? 'Add a start rule' : `Add a quick start, ${fixed(quick, 2)} V` }}
      </button>
      <button v-if="moreStops" type="button" class="link" @click="addStop">Add a stop rule</button>
    </p>
    <p v-if="wake?.adjustable === false" class="muted hint">Fixed in this unit: what its record says counts.</p>
  </section>
</template>

<style scoped>
.rule {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 80px 66px 16px;
  gap: 3px;
  align-items: center;
  min-height: 28px;
}
.rule-name {
  font-family: var(--narrow);
  color: var(--muted);
  white-space: nowrap;
}
.glyph {
  display: inline-block;
  width: 13px;
  font-size: var(--small);
  color: var(--ink);
}
.wrong .glyph {
  color: var(--madder);
}
.tight .glyph {
  color: var(--ochre);
}
.more {
  display: flex;
  gap: 14px;
  margin: 2px 0;
}
.hint {
  margin-top: 2px;
  line-height: 1.3;
}
</style>
