<script setup lang="ts">
/** Which visit is proven: what was read long ago is of a vehicle that was another, and a new visit leaves it out. */
import { computed } from 'vue'
import { date } from '../../ui/locale'

const props = defineProps<{ latest: string; visit: string }>()
defineEmits<{ begin: []; back: [] }>()
/** A fitting takes days; a vehicle that comes back does so after weeks. Our own estimate. */
const OLD_MS = 10 * 86_400_000
const on = (at: string) => date(new Date(at))
const old = computed(() => props.latest !== '' && Date.now() - Date.parse(props.latest) > OLD_MS)
const fresh = computed(() => props.visit !== '' && props.latest === '')
</script>

<template>
  <p v-if="fresh" class="visit" role="status" data-visit>
    New visit, {{ on(visit) }}: what was read before is kept, and no longer counts.
    <button type="button" class="link" @click="$emit('back')">Take it back</button>
  </p>
  <p v-else-if="old" class="visit" data-visit>
    Last read on {{ on(latest) }}. Has the vehicle come back?
    <button type="button" class="link" @click="$emit('begin')">Begin a new visit</button>
  </p>
</template>

<style scoped>
.visit {
  font-size: var(--text);
}
@media (max-width: 700px) {
  .link {
    min-height: 44px;
    display: inline-flex;
    align-items: center;
  }
}
</style>
