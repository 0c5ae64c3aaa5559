<script setup lang="ts">
/** Voltage along the path: the picture the whole job is worked on. */
import { fixed } from '../../ui/locale'
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useJob } from '../../job/store'
import { pathOf, placed } from '../../job/pieces'
import { layOut, voltScale } from './geometry'
import LineCurves from './LineCurves.vue'
import LineHead from './LineHead.vue'
import LinePins from './LinePins.vue'
import LineProbes from './LineProbes.vue'
import LineRail from './LineRail.vue'
import LineReturn from './LineReturn.vue'
import LineStrip from './LineStrip.vue'
import LineThresholds from './LineThresholds.vue'

const emit = defineEmits<{ pick: [place: string]; working: [name: string] }>()
const folded = defineModel<boolean>('folded', { default: false })
const job = useJob()
const frame = ref<HTMLElement | null>(null)
const { width } = useElementSize(frame)

const HEIGHT = 312
const TOP = 20
const BOTTOM = 182
const RAIL_Y = 214
const RETURN_Y = 279

const design = computed(() => job.judged)
const found = computed(() => job.assessment)
const layout = computed(() => (design.value ? layOut(design.value, Math.max(width.value, 320), job.place) : null))
const systemV = computed(() => design.value?.vehicle.system_v ?? 12)
const auxiliaryV = computed(() => design.value?.auxiliary?.nominal_v ?? 12)
const scale = computed(() =>
  found.value
    ? voltScale(found.value.conditions, found.value.wake, systemV.value, auxiliaryV.value, TOP, BOTTOM)
    : null,
)
const lines = computed(() => [...(found.value?.conditions ?? []), ...(job.moment ? [job.moment] : [])])
const line = computed(() => job.line)
const unit = computed(() => layout.value?.byPlace.get('charger'))
watch(
  [() => job.place, layout],
  () => {
    const at = layout.value?.byPlace.get(job.place)
    const box = frame.value
    if (!at || !box || (layout.value?.width ?? 0) <= width.value) return
    if (at.x0 < box.scrollLeft || at.x1 > box.scrollLeft + box.clientWidth) box.scrollLeft = at.x - box.clientWidth / 2
  },
  { flush: 'post' },
)
const faulty = computed(() => new Map([...job.errors.values()].map((item) => [placeOf(item.path), item.message])))
/** The place on the line of a field: of a piece its identity, of a vehicle's or battery's field that station. */
function placeOf(path: string): string {
  const [first = '', second = '', third = ''] = path.split('.')
  if (second === 'pieces') return third
  return first === 'vehicle' ? second : first
}
function stretch(place: string, length_m: number): void {
  const at = placed(job.design, place)
  if (at !== null) job.change([{ path: `${pathOf(at)}.length_m`, value: length_m }], `stretch.${place}`, true)
}
</script>

<template>
  <section class="panel line" aria-label="Level line">
    <LineHead v-model:folded="folded" @working="emit('working', $event)" />
    <LineStrip v-if="folded" />
    <div v-else ref="frame" class="frame" :class="{ dated: job.saveState === 'invalid' }">
      <svg
        v-if="design && found && layout && scale && line"
        :viewBox="`0 0 ${layout.width} ${HEIGHT}`"
        :width="layout.width"
        :height="HEIGHT"
        :data-assessed="job.assessed"
      >
        <defs>
          <marker id="fall-arrow" viewBox="0 0 10 10" refX="6" refY="5" markerWidth="7" markerHeight="7" orient="auto">
            <path d="M0 0L10 5L0 10Z" class="arrow" />
          </marker>
        </defs>
        <text x="8" y="11" class="axis copper narrow">volts, start side</text>
        <text :x="layout.width - 8" y="11" class="axis teal narrow end">volts, auxiliary side</text>
        <g v-for="tick in scale.ticks" :key="tick">
          <line :x1="40" :x2="layout.width - 46" :y1="scale.y(tick, 12)" :y2="scale.y(tick, 12)" class="grid" />
          <text x="34" :y="scale.y(tick, 12) + 4" class="tick narrow end">
            {{ fixed((tick * systemV) / 12, 1) }}
          </text>
          <text :x="layout.width - 40" :y="scale.y(tick, 12) + 4" class="tick narrow">
            {{ fixed((tick * auxiliaryV) / 12, 1) }}
          </text>
        </g>
        <g v-if="unit">
          <rect :x="unit.x0" :y="TOP - 6" :width="unit.x1 - unit.x0" :height="BOTTOM - TOP + 12" class="unit-column" />
          <path :d="`M${unit.x0} ${TOP - 6}V${RAIL_Y - 20}M${unit.x1} ${TOP - 6}V${RAIL_Y - 20}`" class="unit-edge" />
        </g>
        <LineCurves
          :lines="lines"
          :chosen="job.moment ? 'moment' : job.condition"
          :layout="layout"
          :scale="scale"
          :design="design"
          :top="TOP"
          :bottom="BOTTOM"
        />
        <LineThresholds
          v-if="design.charger"
          :wake="found.wake"
          :layout="layout"
          :scale="scale"
          :system-v="systemV"
          :top="TOP"
          :bottom="BOTTOM"
        />
        <LinePins
          :design="design"
          :findings="found.findings"
          :layout="layout"
          :scale="scale"
          :line="line"
          :system-v="systemV"
          :auxiliary-v="auxiliaryV"
          :top="TOP"
          :bottom="BOTTOM"
          @pick="emit('pick', $event)"
        />
        <LineRail
          :layout="layout"
          :design="design"
          :selected="job.place"
          :y="RAIL_Y"
          :faulty="faulty"
          @pick="emit('pick', $event)"
          @stretch="stretch"
        />
        <LineReturn :line="line" :layout="layout" :y="RETURN_Y" :height="24" />
        <LineProbes v-if="job.probes" :probes="job.probes" :layout="layout" :y="RAIL_Y" :return-y="RETURN_Y" />
      </svg>
      <p v-else class="loading muted" role="status">Working the path out…</p>
    </div>
  </section>
</template>

<style scoped>
.line {
  padding: 8px 10px 2px;
}
.frame {
  overflow-x: auto;
  overflow-y: hidden;
  min-height: 312px;
}
.dated {
  opacity: 0.6;
}
svg {
  display: block;
}
.grid {
  stroke: var(--hair);
  stroke-width: 0.8;
}
.axis {
  font-size: var(--small);
  font-weight: 600;
}
.tick {
  font-size: var(--small);
  fill: var(--muted);
}
.copper {
  fill: var(--copper);
}
.teal {
  fill: var(--teal);
}
.end {
  text-anchor: end;
}
.unit-column {
  fill: var(--paper);
  opacity: 0.7;
}
.unit-edge {
  stroke: var(--ink);
  stroke-width: 1.2;
  fill: none;
}
.arrow {
  fill: var(--madder);
}
.loading {
  padding: 120px 0;
  text-align: center;
}
</style>
