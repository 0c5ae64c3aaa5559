<script setup lang="ts">
/** The wiring diagram: pan, zoom, press a piece to open it; conductors of the open step are drawn strong. */
import { useElementSize } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import type { Drawing } from '../../api/types'
import { useView } from './view'

const props = withDefaults(defineProps<{ drawing: Drawing; strong?: readonly string[]; still?: boolean }>(), {
  strong: () => [],
  still: false,
})
const emit = defineEmits<{ pick: [place: string] }>()
const svg = ref<SVGSVGElement | null>(null)
const { width: seenWide, height: seenTall } = useElementSize(svg)
const view = useView(
  () => props.drawing.width,
  () => props.drawing.height,
  () => (seenWide.value > 0 && seenTall.value > 0 ? seenWide.value / seenTall.value : 1.5),
)
const strong = computed(() => new Set(props.strong))
/** At its own size, with the conductors of the open step in the middle, where the whole would be too small to read. */
function follow(): void {
  const wide = seenWide.value
  if (wide === 0 || wide >= props.drawing.width) return
  if (strong.value.size === 0) {
    // a phone begins at the start battery, large enough to read
    if (wide < 0.6 * props.drawing.width) view.centre(0, props.drawing.height / 3, view.width() / wide)
    return
  }
  const spots = props.drawing.lines.filter((line) => strong.value.has(line.conductor)).flatMap((line) => line.points)
  if (spots.length === 0) return
  const mean = (at: number) => {
    const all = spots.map((spot) => spot[at] ?? 0)
    return (Math.min(...all) + Math.max(...all)) / 2
  }
  view.centre(mean(0), mean(1), view.width() / wide)
}
watch([strong, () => props.drawing, seenWide, seenTall], follow, { flush: 'post' })
onMounted(follow)
const points = (list: readonly (readonly number[])[]) => list.map((p) => p.join(',')).join(' ')
let from: { x: number; y: number; moved: boolean } | null = null
function down(event: PointerEvent): void {
  from = { x: event.clientX, y: event.clientY, moved: false }
}
function move(event: PointerEvent): void {
  if (from === null || event.buttons === 0 || svg.value === null) return
  const { width, height } = svg.value.getBoundingClientRect()
  const [dx, dy] = [event.clientX - from.x, event.clientY - from.y]
  if (!from.moved && Math.hypot(dx, dy) < 4) return
  view.move(-dx / width, -dy / height)
  from = { x: event.clientX, y: event.clientY, moved: true }
}
function up(place: string): void {
  const moved = from?.moved === true
  from = null
  if (!moved && place !== '') emit('pick', place)
}
function wheel(event: WheelEvent): void {
  if (!event.ctrlKey && view.scale.value === 1 && event.deltaY > 0) return
  event.preventDefault()
  const box = svg.value?.getBoundingClientRect()
  if (!box) return
  view.zoom(
    event.deltaY < 0 ? 1.2 : 1 / 1.2,
    (event.clientX - box.left) / box.width,
    (event.clientY - box.top) / box.height,
  )
}
function key(event: KeyboardEvent): void {
  const step = { ArrowLeft: [-0.1, 0], ArrowRight: [0.1, 0], ArrowUp: [0, -0.1], ArrowDown: [0, 0.1] }[event.key]
  if (step) view.move(step[0] ?? 0, step[1] ?? 0)
  else if (event.key === '+') view.zoom(1.3)
  else if (event.key === '-') view.zoom(1 / 1.3)
  else if (event.key === '0') view.whole()
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <figure class="diagram">
    <div v-if="!still" class="keys" role="group" aria-label="View of the diagram">
      <button type="button" aria-label="Closer" @click="view.zoom(1.4)">+</button>
      <button type="button" aria-label="Farther" @click="view.zoom(1 / 1.4)">−</button>
      <button type="button" class="plain" @click="view.whole()">whole</button>
      <slot />
    </div>
    <svg
      ref="svg"
      :viewBox="view.box.value"
      role="group"
      tabindex="0"
      aria-label="Wiring diagram; arrows move it, plus and minus bring it closer"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up('')"
      @wheel="wheel"
      @keydown="key"
    >
      <g v-for="(line, at) in drawing.lines" :key="`l${at}`">
        <polygon
          v-if="line.closed"
          :points="points(line.points)"
          :class="[line.kind, { filled: line.filled, dashed: line.dashed, hit: line.place }]"
          @pointerup.stop="up(line.place)"
        />
        <polyline
          v-else
          :points="points(line.points)"
          :class="[line.kind, { bold: line.bold, strong: strong.has(line.conductor), hit: line.place }]"
          :data-conductor="line.conductor || undefined"
          @pointerup.stop="up(line.place)"
        >
          <title v-if="line.conductor">{{ line.conductor }}</title>
        </polyline>
      </g>
      <circle
        v-for="(ring, at) in drawing.rings"
        :key="`r${at}`"
        :cx="ring.x"
        :cy="ring.y"
        :r="ring.radius"
        :class="{ dot: ring.filled }"
      >
        <title v-if="ring.terminal">{{ ring.terminal }}</title>
      </circle>
      <text
        v-for="(words, at) in drawing.words"
        :key="`w${at}`"
        :x="words.x"
        :y="words.y"
        :text-anchor="words.anchor"
        :class="{ name: words.bold, muted: words.muted, strong: strong.has(words.conductor), hit: words.place }"
        @pointerup.stop="up(words.place)"
      >
        {{ words.text }}
      </text>
    </svg>
  </figure>
</template>

<style scoped>
.diagram {
  margin: 0;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding-bottom: 4px;
}
.keys button {
  min-width: 28px;
  min-height: 28px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 0 8px;
}
svg {
  width: 100%;
  height: 100%;
  min-height: 220px;
  touch-action: none;
  user-select: none;
}
polyline,
polygon {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-linejoin: round;
}
polygon.filled,
circle {
  fill: var(--panel);
}
circle {
  stroke: var(--ink);
  stroke-width: 1.4;
}
circle.dot {
  fill: var(--ink);
}
.bold {
  stroke-width: 2.6;
}
.dashed {
  stroke-dasharray: 5 3;
}
polyline.supply {
  stroke: var(--copper);
}
polyline.delivery {
  stroke: var(--teal);
}
.vehicle,
.signal,
.old {
  stroke: var(--muted);
}
polyline.strong {
  stroke-width: 7;
}
text.strong {
  fill: var(--copper);
}
.hit {
  cursor: pointer;
}
text {
  font-family: var(--narrow);
  font-size: 12px;
  fill: var(--ink);
}
text.name {
  font-size: 13px;
  font-weight: 600;
}
text.muted {
  fill: var(--muted);
}
@media (max-width: 700px) {
  svg {
    min-height: 430px;
  }
  .keys button {
    min-width: 44px;
    min-height: 44px;
  }
}
</style>
