<script setup lang="ts">
/** When the unit may charge: the way, the thresholds, the delays. */
import { computed } from 'vue'
import NumberField from '../../ui/NumberField.vue'
import { useJob } from '../../job/store'
import NextMinutes from '../../trip/NextMinutes.vue'
import VoltageLadder from './VoltageLadder.vue'

const job = useJob()
type Method = 'voltage' | 'ignition' | 'd_plus' | 'switch' | 'link'
const METHODS: { key: Method; label: string; text: string; enable: string }[] = [
  { key: 'voltage', label: 'Engine-run by voltage', text: 'No wire. Works while the windows stand open.', enable: 'voltage' },
  { key: 'd_plus', label: 'Charge indicator (D+, 61)', text: 'Live only while generating. One wire with its own small fuse.', enable: 'd_plus' },
  { key: 'ignition', label: 'Ignition feed (15)', text: 'Live with the engine stopped too: the lockout must guard.', enable: 'ignition' },
  { key: 'switch', label: 'Manual switch', text: 'Needs someone to remember it.', enable: 'remote' },
  { key: 'link', label: 'Bridge link', text: 'Always allowed; only the lockout guards.', enable: 'remote' },
]
const chosen = computed(() => (job.design?.activation?.methods ?? []) as Method[])
const unit = computed(() => job.design?.charger ?? null)
const signals = computed(() => job.design?.vehicle.signals)
function about(key: Method, enable: string): string {
  if (unit.value && !(unit.value.enables ?? []).includes(enable as never)) return 'not on this unit'
  if (key === 'ignition' && !signals.value?.ignition) return 'not surveyed'
  if (key === 'd_plus' && !signals.value?.d_plus) return 'not surveyed'
  return ''
}
function toggle(key: Method): void {
  const next = chosen.value.includes(key) ? chosen.value.filter((item) => item !== key) : [...chosen.value, key]
  job.change([{ path: 'activation.methods', value: next }])
}
const set = computed(() => ['start_v', 'stop_v', 'lockout_v', 'restart_v'].some((key) => job.valueAt(`activation.${key}`) != null))
function propose(): void {
  job.change(['start_at_once_v', 'start_v', 'stop_v', 'lockout_v', 'restart_v'].map((key) => ({ path: `activation.${key}`, value: null })))
}
const atOnce = computed(() => (job.assessment?.wake.voltage_used && job.valueAt('activation.start_at_once_v') == null ? (job.assessment.wake.at_once_proposal_v ?? null) : null))
const shown = (key: string) => job.assessment?.wake.thresholds.find((item) => item.key === key)?.value_v.toFixed(2) ?? ''
</script>

<template>
  <div class="wake">
    <section class="panel ways" aria-label="When may it charge">
      <div class="bench-head"><h2>When may it charge</h2></div>
      <button v-for="method in METHODS" :key="method.key" type="button" class="plain way" role="checkbox" :aria-checked="chosen.includes(method.key)" :class="{ on: chosen.includes(method.key) }" :data-method="method.key" @click="toggle(method.key)">
        <span class="tickbox" aria-hidden="true">{{ chosen.includes(method.key) ? '✓' : '' }}</span>
        <span><b>{{ method.label }}</b><em v-if="about(method.key, method.enable)">{{ about(method.key, method.enable) }}</em><small>{{ method.text }}</small></span>
      </button>
    </section>
    <section class="panel volts" aria-label="Voltage ladder">
      <div class="bench-head"><h2>Voltage ladder</h2><span class="aside">V at the charger · loaded means full current</span></div>
      <div class="hold"><VoltageLadder v-if="unit" /><p v-else class="muted">Choose a unit in Match first: its draw decides the loaded volts.</p></div>
    </section>
    <div class="right">
    <section class="panel times" aria-label="Thresholds and delays">
      <div class="bench-head"><h2>To key in</h2><button v-if="set" type="button" class="link" @click="propose">propose all</button></div>
      <NumberField path="activation.start_at_once_v" label="△ At once" unit="V" fallback="none" :step="0.05" />
      <NumberField path="choices.margin_v" label="Margin" unit="V" origin="own" :step="0.05" />
      <NumberField path="activation.start_v" label="▲ Start" unit="V" :fallback="shown('start')" :step="0.05" />
      <NumberField path="activation.start_delay_s" label="after" unit="s" :step="1" />
      <NumberField path="activation.stop_v" label="▼ Stop" unit="V" :fallback="shown('stop')" :step="0.05" />
      <NumberField path="activation.stop_delay_s" label="after" unit="s" :step="5" />
      <NumberField path="activation.lockout_v" label="■ Lockout" unit="V" :fallback="shown('lockout')" :step="0.05" />
      <NumberField path="activation.lockout_delay_s" label="after" unit="s" :step="1" />
      <NumberField path="activation.restart_v" label="◇ Release" unit="V" :fallback="shown('restart')" :step="0.05" />
      <button v-if="atOnce !== null" type="button" class="link once" title="Reached at the higher running volts only; at the lower the start battery is given its delay" @click="job.change([{ path: 'activation.start_at_once_v', value: atOnce }])">△ at once, {{ atOnce.toFixed(2) }} V</button>
      <p class="muted hint">{{ job.assessment?.wake.adjustable === false ? 'Fixed in this unit: what its record says counts.' : 'Faint: proposed. Type, drag a mark, or ↑ ↓ on it.' }}</p>
    </section>
    <NextMinutes />
    </div>
  </div>
</template>

<style scoped>
.wake { display: grid; grid-template-columns: 192px minmax(0, 1fr) 306px; gap: 10px; min-height: 0; }
section { padding: 9px 11px; overflow: auto; min-height: 0; }
.way { display: grid; grid-template-columns: 22px 1fr; padding: 6px; border: 1px solid transparent; border-radius: 3px; width: 100%; font-size: 13px; line-height: 1.3; }
.way small { display: block; color: var(--muted); font-size: 12.5px; } .way em { margin-left: 5px; color: var(--ochre); font-size: 12px; }
.way.on { background: var(--copper-wash); border-color: var(--copper); }
.tickbox { width: 15px; height: 15px; border: 1.5px solid var(--ink); border-radius: 3px; font-size: 11px; line-height: 12px; text-align: center; margin-top: 2px; } .on .tickbox { background: var(--copper); border-color: var(--copper); color: var(--panel); }
.volts { display: flex; flex-direction: column; } .hold { flex: 1; min-height: 250px; }
.right { display: grid; grid-template-rows: auto minmax(0, 1fr); gap: 8px; min-height: 0; } .times { display: grid; grid-template-columns: 1.18fr 1fr; gap: 0 8px; align-content: start; } .times > :deep(.bench-head), .hint { grid-column: 1 / -1; margin-bottom: 2px; }
.times :deep(.field) { grid-template-columns: minmax(0, 1fr) 68px 0; gap: 1px 2px; min-height: 27px; } .times :deep(.entry input) { padding-right: 20px; padding-left: 7px; } .times :deep(.entry .unit) { right: 6px; }
.times :deep(.origin) { display: none; }
.once { font-size: 12.5px; align-self: center; } .hint { font-size: 12px; margin-top: 2px; line-height: 1.3; }
@media (max-width: 1000px) { .wake { grid-template-columns: minmax(0, 1fr); } section { overflow: visible; } }
</style>
