<script setup lang="ts">
/** The relay that opens an old link: drawn at rest, where it sits, what contact and coil carry. */
import { entered, fixed } from '../../ui/locale'
import { computed } from 'vue'
import type { RelayDesign } from '../../api/types'
import NumberField from '../../ui/NumberField.vue'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import { walkRadios } from '../../ui/radios'
import RelayDrawing from './RelayDrawing.vue'

const props = defineProps<{ relay: RelayDesign }>()
const job = useJob()
const { off, ready } = useDrive()
const place = computed({
  get: () => props.relay.place,
  set: (value: string) => {
    job.change([{ path: 'old_link.relay_place', value }])
  },
})
</script>

<template>
  <section class="panel" aria-label="Relay">
    <div class="bench-head">
      <h2>The relay</h2>
      <span class="aside">at rest: {{ off }}</span>
    </div>
    <RelayDrawing :relay="relay" />
    <div class="seats" role="radiogroup" aria-label="Relay sits in" @keydown="walkRadios">
      <button
        v-for="[key, label] in [
          ['start_feed', 'start-battery feed'],
          ['auxiliary_feed', 'auxiliary feed'],
        ]"
        :key="key"
        type="button"
        class="plain chip"
        role="radio"
        :aria-checked="place === key"
        :tabindex="place === key ? 0 : -1"
        :class="{ on: place === key }"
        @click="place = key ?? ''"
      >
        {{ place === key ? '✓ ' : '' }}{{ label }}
      </button>
    </div>
    <dl>
      <div>
        <dt>Contact carries</dt>
        <dd>
          {{ fixed(relay.duty_a, 1) }}&nbsp;A <small class="muted">{{ relay.duty_from }}</small>
        </dd>
      </div>
      <div>
        <dt>Break contact 87a</dt>
        <dd :class="{ stop: !relay.contact_a }">
          {{ relay.contact_a ? `${entered(relay.contact_a)} A` : 'none that large' }}
        </dd>
      </div>
      <div v-if="!ready">
        <dt>Coil and all on D+</dt>
        <dd :class="relay.coil_fits ? 'good' : 'caution'">
          {{ fixed(relay.total_ma, 0) }} of {{ fixed(relay.d_plus_ma, 0) }} mA
        </dd>
      </div>
    </dl>
    <NumberField v-if="relay.place === 'start_feed'" path="old_link.feed_a" :fallback="fixed(relay.duty_a, 1)" />
    <NumberField v-else path="old_link.living_a" :fallback="fixed(relay.duty_a, 1)" />
    <NumberField path="old_link.feed_mm2" fallback="open" />
    <NumberField path="old_link.coil_ma" origin="datasheet" :fallback="fixed(relay.coil_ma, 0)" />
    <NumberField v-if="!ready" path="old_link.d_plus_ma" origin="datasheet" :fallback="fixed(relay.d_plus_ma, 0)" />
    <ul class="terms">
      <li v-for="item in relay.terminals" :key="item.terminal">
        <b>{{ item.terminal }}</b> {{ item.goes_to }}
      </li>
    </ul>
    <p class="small"><b>Suppression:</b> {{ relay.suppression }}.</p>
    <p class="small">{{ relay.if_broken }}</p>
  </section>
</template>

<style scoped>
.seats {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 3px 0 8px;
}
.chip {
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 2px 7px;
  font-size: var(--text);
}
.chip.on {
  border-color: var(--copper);
  background: var(--copper-wash);
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 5px;
}
dl {
  margin: 4px 0;
  font-size: var(--text);
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
  font-weight: 600;
}
.terms {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
  font-size: var(--text);
  line-height: 1.35;
}
.terms b {
  display: inline-block;
  min-width: 26px;
}
section :deep(.field) {
  grid-template-columns: minmax(0, 1fr) 82px 0;
}
section :deep(.origin) {
  display: none;
}
@media (max-width: 1100px) {
  .chip {
    min-height: 44px;
  }
}
</style>
