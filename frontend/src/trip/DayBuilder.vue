<script setup lang="ts">
/** The day on a timeline: blocks to pick, stretch, move and set, over the same text. */
import { computed, nextTick, ref, watch } from 'vue'
import { blocksOf, ENGINES, lineOf, secondsOf, textOf, tidy, widthOf, type Block, type Engine } from './blocks'
import BlockEditor from './BlockEditor.vue'

const text = defineModel<string>({ required: true })
const strip = ref<HTMLElement | null>(null)
const at = ref(0)
const blocks = computed(() => blocksOf(text.value))
const chosen = computed(() => blocks.value[at.value] ?? null)
watch(
  () => blocks.value.length,
  (count) => {
    at.value = Math.min(at.value, Math.max(0, count - 1))
  },
)
function put(next: Block[]): void {
  text.value = textOf(next)
}
function set(part: Partial<Block>): void {
  const block = chosen.value
  if (block) put(blocks.value.map((item, index) => (index === at.value ? { ...block, ...part } : item)))
}
function add(engine: Engine): void {
  const next = [...blocks.value]
  next.splice(at.value + (next.length ? 1 : 0), 0, {
    kind: 'stretch',
    engine,
    amount: engine === 'crank' ? 2 : 5,
    unit: engine === 'crank' ? 's' : 'min',
    more: '',
    text: '',
  })
  put(next)
  focus(Math.min(at.value + (blocks.value.length > 1 ? 1 : 0), next.length - 1))
}
function remove(): void {
  put(blocks.value.filter((_, index) => index !== at.value))
  focus(Math.max(0, at.value - 1))
}
function move(by: number): void {
  const to = at.value + by
  const next = [...blocks.value]
  const [block] = next.splice(at.value, 1)
  if (!block || to < 0 || to > next.length) return
  next.splice(to, 0, block)
  put(next)
  focus(to)
}
function repeat(): void {
  const block = chosen.value
  if (!block) return
  const line = (kind: 'repeat' | 'end', amount: number): Block => ({
    kind,
    engine: 'off',
    amount,
    unit: 'min',
    more: '',
    text: kind,
  })
  const next = [...blocks.value]
  next.splice(at.value, 1, line('repeat', 2), block, line('end', 1))
  put(next)
}
function focus(to: number): void {
  at.value = to
  void nextTick(() => strip.value?.querySelector<HTMLElement>(`[data-block="${to}"]`)?.focus())
}
function key(event: KeyboardEvent): void {
  const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  const grow = event.key === 'ArrowUp' ? 1.25 : event.key === 'ArrowDown' ? 0.8 : 0
  if (by && event.altKey) move(by)
  else if (by) focus(Math.min(blocks.value.length - 1, Math.max(0, at.value + by)))
  else if (grow && chosen.value?.kind === 'stretch') stretch(secondsOf(chosen.value) * grow)
  else if (event.key === 'Delete') remove()
  else return
  event.preventDefault()
  event.stopPropagation()
}
function stretch(seconds: number): void {
  set(tidy(Math.min(60 * 86400, Math.max(1, seconds))))
}
let from: { x: number; seconds: number } | null = null
function grab(event: PointerEvent, index: number): void {
  const block = blocks.value[index]
  if (!block || block.kind !== 'stretch') return
  at.value = index
  from = { x: event.clientX, seconds: secondsOf(block) }
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  event.stopPropagation()
}
function drag(event: PointerEvent): void {
  if (from) stretch(from.seconds * 2 ** ((event.clientX - from.x) / 40))
}
</script>

<template>
  <div class="builder">
    <div ref="strip" class="strip" role="listbox" aria-label="The day, block by block" @keydown="key">
      <div
        v-for="(block, index) in blocks"
        :key="index"
        role="option"
        :tabindex="index === at ? 0 : -1"
        :aria-selected="index === at"
        :data-block="index"
        class="block"
        :class="[block.kind === 'stretch' ? block.engine : block.kind, { on: index === at }]"
        :style="{ flexGrow: block.kind === 'stretch' ? widthOf(block) : 0 }"
        :title="lineOf(block)"
        @click="focus(index)"
      >
        <span v-if="block.kind === 'stretch'"
          ><b>{{ block.engine }}</b
          ><small>{{ block.amount }} {{ block.unit }}</small></span
        ><span v-else-if="block.kind === 'repeat'"
          ><b>{{ block.amount }}×</b><small>[</small></span
        ><span v-else-if="block.kind === 'end'"><b>]</b></span
        ><span v-else
          ><small>{{ block.text.slice(0, 12) }}</small></span
        >
        <i
          v-if="block.kind === 'stretch'"
          class="edge"
          aria-hidden="true"
          @pointerdown="grab($event, index)"
          @pointermove="drag"
          @pointerup="from = null"
          @pointercancel="from = null"
          @click.stop
        />
      </div>
    </div>
    <BlockEditor v-if="chosen" :block="chosen" @set="set" @move="move" @repeat="repeat" @remove="remove" />
    <div class="adders">
      <span class="muted">add</span
      ><button v-for="name in ENGINES" :key="name" type="button" class="tiny" :class="name" @click="add(name)">
        {{ name }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.builder {
  display: grid;
  gap: 4px;
}
.strip {
  display: flex;
  gap: 2px;
  flex-wrap: wrap;
  max-height: 118px;
  overflow: auto;
  padding: 2px;
}
.block {
  position: relative;
  flex: 1 1 34px;
  min-width: 42px;
  max-width: 150px;
  height: 34px;
  border: 1px solid var(--edge);
  border-radius: 2px;
  padding: 1px 4px;
  font-size: var(--small);
  line-height: 1.15;
  cursor: pointer;
  overflow: hidden;
  background: var(--field);
  font-family: var(--narrow);
}
.block b {
  font-weight: 600;
  display: block;
}
.block small {
  font-size: var(--small);
  white-space: nowrap;
}
.block.on {
  border-color: var(--ink);
  box-shadow: inset 0 -3px var(--copper);
}
.block.repeat,
.block.end,
.block.other {
  flex-basis: 20px;
  background: none;
  border-style: dashed;
  min-width: 18px;
}
.idle,
.cruise {
  background: var(--copper-wash);
}
.low {
  background: repeating-linear-gradient(135deg, var(--copper-wash) 0 4px, var(--panel) 4px 7px);
}
.crank {
  background: var(--teal-wash);
}
.edge {
  position: absolute;
  right: 0;
  top: 0;
  bottom: 0;
  width: 8px;
  cursor: ew-resize;
  border-right: 3px solid var(--edge);
  touch-action: none;
}
.adders {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
  align-items: center;
  font-size: var(--text);
}
.tiny {
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--panel);
  padding: 1px 6px;
  font-size: var(--text);
  cursor: pointer;
  min-height: 24px;
}
.tiny.idle,
.tiny.cruise {
  background: var(--copper-wash);
}
.tiny.crank {
  background: var(--teal-wash);
}
@media (max-width: 1100px) {
  .tiny {
    min-height: 44px;
    min-width: 38px;
  }
  .block {
    height: 44px;
  }
}
</style>
