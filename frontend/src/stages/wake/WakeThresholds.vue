<script setup lang="ts">
/** When the unit may charge: the way, the thresholds, the delays. */
import { computed } from 'vue'
import NumberField from '../../ui/NumberField.vue'
import { useJob } from '../../job/store'
import { fieldAt } from '../../ui/fields'
import NextMinutes from '../../trip/NextMinutes.vue'
import VoltageLadder from './VoltageLadder.vue'

const job = useJob()
type Way = 'voltage' | 'ignition' | 'd_plus' | 'switch' | 'bridge'
const WAYS: { key: Way; label: string; text: string; enable: string }[] = [
  {
    key: 'voltage',
    label: 'Engine-run by voltage',
    text: 'No wire. Works while the windows stand open.',
    enable: 'voltage',
  },
  {
    key: 'd_plus',
    label: 'Charge indicator (D+, 61)',
    text: 'Live only while generating. One wire with its own small fuse.',
    enable: 'd_plus',
  },
  {
    key: 'ignition',
    label: 'Ignition feed (15)',
    text: 'Live with the engine stopped too: the battery guard must act.',
    enable: 'ignition',
  },
  { key: 'switch', label: 'Manual switch', text: 'Needs someone to remember it.', enable: 'remote' },
  { key: 'bridge', label: 'Bridge link', text: 'Always allowed; only the battery guard stops it.', enable: 'remote' },
]
const chosen = computed(() => (job.design?.activation?.ways ?? []) as Way[])
const unit = computed(() => job.design?.charger ?? null)
const signals = computed(() => job.design?.vehicle.signals)
const wake = computed(() => job.assessment?.wake ?? null)
const activation = computed(() => job.design?.activation)
function about(key: Way, enable: string): string {
  if (unit.value && !(unit.value.enables ?? []).includes(enable as never)) return 'not on this unit'
  if (key === 'ignition' && !signals.value?.ignition) return 'not surveyed'
  if (key === 'd_plus' && !signals.value?.d_plus) return 'not surveyed'
  return ''
}
function toggle(key: Way): void {
  const next = chosen.value.includes(key) ? chosen.value.filter((item) => item !== key) : [...chosen.value, key]
  job.change([{ path: 'activation.ways', value: next }])
}

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
    { path: 'choices.margin_v', held: '', glyph: '±', list: '', at: 0 },
  ]
})
const label = (path: string) => fieldAt(job.design, path).label
const markAt = (path: string) => wake.value?.marks.find((item) => item.path === path)
const standing = (path: string) => markAt(path)?.value_v.toFixed(2) ?? ''
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
  <div class="wake">
    <section class="panel ways" aria-label="When may it charge">
      <div class="bench-head"><h2>When may it charge</h2></div>
      <button
        v-for="method in WAYS"
        :key="method.key"
        type="button"
        class="plain way"
        role="checkbox"
        :aria-checked="chosen.includes(method.key)"
        :class="{ on: chosen.includes(method.key) }"
        :data-method="method.key"
        @click="toggle(method.key)"
      >
        <span class="tickbox" aria-hidden="true">{{ chosen.includes(method.key) ? '✓' : '' }}</span>
        <span
          ><b>{{ method.label }}</b
          ><em v-if="about(method.key, method.enable)">{{ about(method.key, method.enable) }}</em
          ><small>{{ method.text }}</small></span
        >
      </button>
    </section>
    <section class="panel volts" aria-label="Voltage ladder">
      <div class="bench-head">
        <h2>Voltage ladder</h2>
        <span class="aside">V at the charger · loaded means full current</span>
      </div>
      <div class="hold">
        <VoltageLadder v-if="unit" />
        <p v-else class="muted">Choose a unit in Match first: its draw decides the loaded volts.</p>
      </div>
    </section>
    <div class="right">
      <section class="panel times" aria-label="Thresholds and delays">
        <div class="bench-head">
          <h2>To key in</h2>
          <span class="aside">volts · held for</span
          ><button v-if="anySet" type="button" class="link" @click="propose">propose all</button>
        </div>
        <div v-for="row in rows" :key="row.path" class="rule" :class="markAt(row.path)?.verdict">
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
            {{ quick === null ? 'Add a start rule' : `Add a quick start, ${quick.toFixed(2)} V` }}
          </button>
          <button v-if="moreStops" type="button" class="link" @click="addStop">Add a stop rule</button>
        </p>
        <p class="muted hint">
          {{
            wake?.adjustable === false
              ? 'Fixed in this unit: what its record says counts.'
              : 'Faint: proposed. Type, drag a mark, or ↑ ↓ on it.'
          }}
        </p>
      </section>
      <NextMinutes />
    </div>
  </div>
</template>

<style scoped>
.wake {
  display: grid;
  grid-template-columns: 192px minmax(0, 1fr) 306px;
  gap: 10px;
  min-height: 0;
}
section {
  padding: 9px 11px;
  overflow: auto;
  min-height: 0;
}
.way {
  display: grid;
  grid-template-columns: 22px 1fr;
  padding: 6px;
  border: 1px solid transparent;
  border-radius: 3px;
  width: 100%;
  font-size: 13px;
  line-height: 1.3;
}
.way small {
  display: block;
  color: var(--muted);
  font-size: 12.5px;
}
.way em {
  margin-left: 5px;
  color: var(--ochre);
  font-size: 12px;
}
.way.on {
  background: var(--copper-wash);
  border-color: var(--copper);
}
.tickbox {
  width: 15px;
  height: 15px;
  border: 1.5px solid var(--ink);
  border-radius: 3px;
  font-size: 11px;
  line-height: 12px;
  text-align: center;
  margin-top: 2px;
}
.on .tickbox {
  background: var(--copper);
  border-color: var(--copper);
  color: var(--panel);
}
.volts {
  display: flex;
  flex-direction: column;
}
.hold {
  flex: 1;
  min-height: 250px;
}
.right {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
}
.times {
  overflow: auto;
}
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
  font-size: 12px;
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
@media (max-width: 1000px) {
  .wake {
    grid-template-columns: minmax(0, 1fr);
  }
  section {
    overflow: visible;
  }
}
</style>
