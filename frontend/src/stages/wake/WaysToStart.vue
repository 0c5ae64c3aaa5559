<script setup lang="ts">
/** The ways to start: what may allow charging, each with whether it can be had here. */
import { computed } from 'vue'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import { tied } from '../../ui/tied'

const job = useJob()
const { ready } = useDrive()
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
// Of a hybrid or electric vehicle.
const READY: Partial<Record<Way, { label?: string; text?: string }>> = {
  voltage: { label: 'Ready, by voltage' },
  ignition: { text: 'Take the feed that is live only while the vehicle is ready.' },
}
const ways = computed(() => WAYS.map((way) => (ready.value ? { ...way, ...READY[way.key] } : way)))
const chosen = computed(() => (job.design?.activation?.ways ?? []) as Way[])
const unit = computed(() => job.design?.charger ?? null)
const signals = computed(() => job.design?.vehicle.signals)
function about(key: Way, enable: string): string {
  if (unit.value && !(unit.value.enables ?? []).includes(enable as never)) return 'not on this unit'
  if (key === 'ignition' && !signals.value?.ignition) return 'not surveyed'
  if (key === 'd_plus' && ready.value) return 'a DC converter gives none'
  if (key === 'd_plus' && !signals.value?.d_plus) return 'not surveyed'
  return ''
}
function toggle(key: Way): void {
  const next = chosen.value.includes(key) ? chosen.value.filter((item) => item !== key) : [...chosen.value, key]
  job.change([{ path: 'activation.ways', value: next }])
}
</script>

<template>
  <section class="panel" aria-label="When may it charge">
    <div class="bench-head"><h2>When may it charge</h2></div>
    <button
      v-for="method in ways"
      :key="method.key"
      type="button"
      class="plain way"
      role="checkbox"
      :aria-checked="chosen.includes(method.key)"
      :class="{ on: chosen.includes(method.key) }"
      :data-method="method.key"
      :title="method.text"
      @click="toggle(method.key)"
    >
      <span class="tickbox" aria-hidden="true">{{ chosen.includes(method.key) ? '✓' : '' }}</span>
      <span
        ><b>{{ method.label }}</b
        ><em v-if="about(method.key, method.enable)">{{ about(method.key, method.enable) }}</em
        ><small v-if="chosen.includes(method.key)">{{ tied(method.text) }}</small></span
      >
    </button>
  </section>
</template>

<style scoped>
.way {
  display: grid;
  grid-template-columns: 22px 1fr;
  padding: 6px;
  border: 1px solid transparent;
  border-radius: 3px;
  width: 100%;
  font-size: var(--text);
  line-height: 1.3;
}
.way small {
  display: block;
  color: var(--muted);
  font-size: var(--text);
}
.way em {
  margin-left: 5px;
  color: var(--ochre);
  font-size: var(--small);
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
  font-size: var(--small);
  line-height: 12px;
  text-align: center;
  margin-top: 2px;
}
.on .tickbox {
  background: var(--copper);
  border-color: var(--copper);
  color: var(--panel);
}
</style>
