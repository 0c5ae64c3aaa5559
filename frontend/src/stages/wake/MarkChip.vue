<script setup lang="ts">
/** A threshold's chip beside the ladder: what it is, its volts, its margin; dragged or stepped by key. */
import { fixed } from '../../ui/locale'
import type { Mark } from '../../api/types'

defineProps<{ mark: Mark; y: number; right: number; wide: number; low: number; high: number }>()
const GLYPH: Record<Mark['kind'], string> = { start: '▲', stop: '▼', guard: '■', back: '◇' }
</script>

<template>
  <g
    role="slider"
    tabindex="0"
    class="handle"
    :class="mark.verdict"
    :aria-label="`${mark.label} threshold`"
    :aria-valuenow="mark.value_v"
    :aria-valuemin="low"
    :aria-valuemax="high"
    :aria-valuetext="`${fixed(mark.value_v, 2)} V, ${mark.proposed ? 'proposed' : 'set'}, ${mark.margin_text}`"
    :data-threshold="mark.path"
  >
    <rect
      :x="right - wide + 4"
      :y="y - 15"
      :width="wide - 6"
      height="31"
      rx="2"
      class="chip"
      :class="{ proposed: mark.proposed }"
    />
    <text :x="right - wide + 12" :y="y - 2" class="glyph">{{ GLYPH[mark.kind] }}</text>
    <text :x="right - wide + 27" :y="y - 2" class="word" :class="{ narrow: wide < 150 }">{{ mark.label }}</text>
    <text :x="right - 10" :y="y - 2" class="volts" :class="{ narrow: wide < 150 }"
      >{{ fixed(mark.value_v, 2) }}&nbsp;V</text
    >
    <text :x="right - wide + 12" :y="y + 11" class="margin narrow">
      {{ mark.margin_text }}
    </text>
  </g>
</template>

<style scoped>
text {
  font-size: var(--small);
  fill: var(--ink);
}
.handle {
  cursor: ns-resize;
  outline: none;
}
.chip {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.4;
}
.handle:focus-visible .chip {
  stroke: var(--copper);
  stroke-width: 3;
}
.word {
  font-weight: 500;
  font-size: var(--text);
}
.volts {
  font-weight: 600;
  text-anchor: end;
  font-size: var(--text);
}
.glyph {
  font-size: var(--small);
}
.margin {
  fill: var(--muted);
  font-size: var(--small);
}
.chip.proposed {
  stroke-dasharray: 6 3;
}
.wrong .chip {
  stroke: var(--madder);
}
.wrong .volts,
.wrong .glyph {
  fill: var(--madder);
}
.tight .chip {
  stroke: var(--ochre);
}
.tight .volts,
.tight .glyph {
  fill: var(--ochre);
}
</style>
