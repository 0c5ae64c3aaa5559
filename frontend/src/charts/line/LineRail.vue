<script setup lang="ts">
/** The path itself: one symbol a station or piece, each a control. */
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import type { Branch, Cable, Design } from '../../api/types'
import type { Layout, Station } from './geometry'
import { detail, side, thickness, title } from './words'

const props = defineProps<{
  layout: Layout
  design: Design
  selected: string
  y: number
  faulty: Map<string, string>
}>()
const emit = defineEmits<{ pick: [place: string]; stretch: [place: string, length_m: number] }>()

/** The end of a cable, dragged along the line, sets its length. */
const dragged = ref<{ place: string; from: number; length_m: number; perPixel: number } | null>(null)
function grab(event: PointerEvent, station: Station): void {
  const length_m = Number((station.piece as Cable).length_m)
  if (!Number.isFinite(length_m)) return
  event.preventDefault()
  event.stopPropagation()
  dragged.value = {
    place: station.place,
    from: event.clientX,
    length_m,
    perPixel: Math.max(length_m, 1) / (station.x1 - station.x0),
  }
}
useEventListener(window, 'pointermove', (event: PointerEvent) => {
  const held = dragged.value
  if (held === null) return
  const wanted = held.length_m + (event.clientX - held.from) * held.perPixel
  emit('stretch', held.place, Math.min(60, Math.max(0.1, Math.round(wanted * 10) / 10)))
})
useEventListener(window, 'pointerup', () => {
  dragged.value = null
})

const titleOf = (station: Station) => title(props.design, station)
const detailOf = (station: Station) => detail(props.design, station)
const key = (station: Station) => station.place
</script>

<template>
  <g
    role="listbox"
    :aria-label="`Path from ${design.vehicle.drive === 'converter' ? 'DC converter' : 'alternator'} to auxiliary battery`"
    aria-orientation="horizontal"
  >
    <path
      :d="`M${layout.byPlace.get('alternator')?.x} ${y}H${layout.byPlace.get('charger')?.x0}`"
      class="wire copper"
    />
    <path :d="`M${layout.byPlace.get('charger')?.x1} ${y}H${layout.byPlace.get('auxiliary')?.x}`" class="wire teal" />
    <g
      v-for="station in layout.stations"
      :key="key(station)"
      role="option"
      class="station"
      :class="side(station)"
      :aria-selected="station.place === selected"
      :aria-label="`${titleOf(station)}, ${detailOf(station)}${faulty.has(station.place) ? `, ${faulty.get(station.place)}` : ''}`"
      :tabindex="station.place === selected ? 0 : -1"
      :data-place="station.place"
      :data-run="station.run ?? undefined"
      @click="emit('pick', station.place)"
      @focus="station.place === selected || emit('pick', station.place)"
    >
      <rect :x="station.x0 + 1" :y="y - 22" :width="station.x1 - station.x0 - 2" height="66" class="hit" />
      <rect
        v-if="station.place === selected"
        :x="station.x0 + 3"
        :y="y - 19"
        :width="station.x1 - station.x0 - 6"
        height="38"
        rx="2"
        class="picked"
      />
      <template v-if="station.kind === 'alternator'">
        <circle :cx="station.x" :cy="y" r="15" class="body" />
      </template>
      <template v-else-if="station.kind === 'start_battery' || station.kind === 'auxiliary'">
        <rect :x="station.x - 21" :y="y - 13" width="42" height="26" rx="2" class="body" />
        <path :d="`M${station.x - 13} ${y - 13}v-4h7v4M${station.x + 6} ${y - 13}v-4h7v4`" class="body" />
      </template>
      <template v-else-if="station.kind === 'device'">
        <rect :x="station.x - 13" :y="y - 7" width="26" height="14" class="body" /><path
          :d="`M${station.x - 13} ${y}h26`"
          class="thin"
        />
      </template>
      <template v-else-if="station.kind === 'cable'">
        <path :d="`M${station.x0 + 7} ${y}H${station.x1 - 7}`" class="cable" :stroke-width="thickness(station)" />
        <rect
          v-if="station.place === selected"
          :x="station.x1 - 13"
          :y="y - 12"
          width="10"
          height="24"
          rx="2"
          class="grip"
          @pointerdown="grab($event, station)"
          ><title>drag to set the length</title></rect
        >
      </template>
      <template v-else-if="station.kind === 'branch'">
        <circle :cx="station.x" :cy="y" r="4" class="joint" /><path
          :d="`M${station.x} ${y}V${y - 20}m-4 4l4 -5l4 5`"
          class="thin"
        /><rect
          v-if="(station.piece as Branch).device"
          :x="station.x - 4"
          :y="y - 14"
          width="8"
          height="9"
          class="body"
        />
      </template>
      <circle v-else-if="station.kind === 'joint'" :cx="station.x" :cy="y" r="4.5" class="joint" />
      <template v-else>
        <rect :x="station.x0" :y="y - 20" :width="station.x1 - station.x0" height="40" rx="2" class="body" />
        <path
          v-if="design.charger?.isolated"
          :d="`M${station.x - 3} ${y - 20}v40M${station.x + 3} ${y - 20}v40`"
          class="thin"
        />
        <path v-else :d="`M${station.x} ${y - 20}v40`" class="thin" stroke-dasharray="3 3" />
      </template>
      <text :x="station.x" :y="y + 35" class="name narrow" :class="{ bad: faulty.has(station.place) }">{{
        titleOf(station)
      }}</text>
      <text :x="station.x" :y="y + 48" class="detail narrow">{{ detailOf(station) }}</text>
    </g>
    <!-- Letters within symbols stand apart: a station is called by its name alone. -->
    <g v-for="station in layout.stations" :key="`letters-${station.place}`" aria-hidden="true" class="letters">
      <text v-if="station.kind === 'alternator'" :x="station.x" :y="y + 4.5" class="letter">{{
        design.vehicle.drive === 'converter' ? '=' : 'G'
      }}</text>
      <template v-else-if="station.kind === 'start_battery' || station.kind === 'auxiliary'">
        <text :x="station.x - 10" :y="y + 4" class="letter">−</text
        ><text :x="station.x + 10" :y="y + 4" class="letter">+</text>
      </template>
      <template v-else-if="station.kind === 'charger'">
        <text :x="station.x0 + 12" :y="y + 4" class="terminal copper-fill">in</text
        ><text :x="station.x1 - 30" :y="y + 4" class="terminal teal-fill">out</text>
      </template>
    </g>
  </g>
</template>

<style scoped>
.station {
  cursor: pointer;
  outline: none;
}
.letters {
  pointer-events: none;
}
.hit {
  fill: transparent;
}
.wire {
  stroke-width: 1.8;
  fill: none;
}
.wire.copper {
  stroke: var(--copper);
}
.wire.teal {
  stroke: var(--teal);
}
.body {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.thin {
  stroke: var(--ink);
  stroke-width: 1.2;
  fill: none;
}
.cable {
  stroke: var(--copper);
  stroke-linecap: round;
}
.teal .cable {
  stroke: var(--teal);
}

.grip {
  fill: var(--panel);
  stroke: var(--copper);
  stroke-width: 1.6;
  cursor: ew-resize;
  touch-action: none;
}
.teal .grip {
  stroke: var(--teal);
}
.joint {
  fill: var(--ink);
}
.picked {
  fill: var(--copper-wash);
  stroke: var(--copper);
  stroke-width: 1.6;
}
.teal .picked {
  fill: var(--teal-wash);
  stroke: var(--teal);
}
.station:focus-visible .picked {
  stroke-width: 3;
}
text {
  fill: var(--ink);
  text-anchor: middle;
}
.letter {
  font-size: var(--small);
  font-weight: 600;
}
.terminal {
  font-size: var(--small);
  font-weight: 600;
  text-anchor: start;
}
.copper-fill {
  fill: var(--copper);
}
.teal-fill {
  fill: var(--teal);
}
.name {
  font-size: var(--text);
  font-weight: 600;
}
.detail {
  font-size: var(--small);
  fill: var(--muted);
}
.bad {
  text-decoration: underline wavy var(--madder);
}
</style>
