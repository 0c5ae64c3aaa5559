<script setup lang="ts">
/** Of a thousand vehicles: how many fail in which way, what would cut it, which tolerance matters most. */
import { fixed } from '../../ui/locale'
import { computed } from 'vue'
import type { Cures, Tolerance } from '../../api/types'
import type { Long } from '../../api/long'
import WorkProgress from '../../ui/WorkProgress.vue'

const props = defineProps<{ answer: Tolerance; stale: boolean; trying: Long<Cures> }>()
const emit = defineEmits<{ take: [cure: Cures['cures'][number]] }>()
const percent = (share: number) =>
  share === 0 ? '0 %' : share < 0.01 ? `${fixed(share * 100, 1)} %` : `${Math.round(share * 100)} %`
const shares = computed(() => {
  const at = props.answer
  return [
    { label: 'fail to start', share: at.fail_to_start },
    { label: 'hunt, or stop under their own load', share: at.hunt },
    { label: 'drain the start battery', share: at.drain },
  ]
})
</script>

<template>
  <section class="panel" aria-label="What fails and why">
    <div class="bench-head"><h2>Of all vehicles</h2></div>
    <div v-for="item in shares" :key="item.label" class="share">
      <span>{{ item.label }}</span><b :class="item.share > 0 ? 'stop' : 'good'">{{ percent(item.share) }}</b
      ><span class="track"><span class="fill" :style="{ width: `${item.share * 100}%` }" /></span>
    </div>
    <template v-if="answer.any_fault > 0 && !stale">
      <div class="bench-head second">
        <h2>What would cut it</h2>
        <span class="aside">then at fault</span>
      </div>
      <WorkProgress
        v-if="trying.done.value !== null"
        :done="trying.done.value"
        what="trying changes"
        @stop="trying.stop()"
      />
      <p v-else-if="trying.answer.value && !trying.answer.value.cures.length" class="muted small">
        No single change tried cuts it by a fifth. Findings come first.
      </p>
      <div v-for="cure in trying.answer.value?.cures ?? []" :key="cure.remedy.label" class="cure" data-cure>
        <button type="button" class="link" @click="emit('take', cure)">{{ cure.remedy.label }}</button><b>{{
          percent(cure.any_fault)
        }}</b>
      </div>
    </template>
    <div class="bench-head second">
      <h2>What matters most</h2>
      <span class="aside">cured if exact</span>
    </div>
    <p v-if="answer.widened > 1 && answer.widened_fault > 0" class="muted small">
      None fails as it is; found with tolerances {{ answer.widened }} times as wide, where
      {{ percent(answer.widened_fault) }} would.
    </p>
    <p v-if="answer.any_fault === 0 && answer.widened_fault === 0" class="muted small">
      Nothing fails, so nothing stands out.
    </p>
    <div
      v-for="item in answer.any_fault > 0 || answer.widened_fault > 0 ? answer.matters : []"
      :key="item.key"
      class="share"
      :data-matters="item.key"
    >
      <span
        >{{ item.label }} <small class="muted">{{ item.spread }}</small></span
      ><b>{{ item.cures === null ? '–' : percent(item.cures ?? 0) }}</b
      ><span class="track"><span class="fill copper" :style="{ width: `${(item.cures ?? 0) * 100}%` }" /></span>
    </div>
  </section>
</template>

<style scoped>
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin: 4px 0;
}
.share {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 1px 8px;
  font-size: var(--text);
  line-height: 1.25;
  margin-bottom: 6px;
}
.share small {
  display: block;
  font-size: var(--small);
}
.track {
  grid-column: 1 / -1;
  height: 6px;
  background: var(--field);
  border: 1px solid var(--hair);
}
.fill {
  display: block;
  height: 100%;
  background: var(--madder);
}
.fill.copper {
  background: var(--copper);
}
.cure {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: var(--text);
  line-height: 1.3;
  margin-bottom: 3px;
}
.cure .link {
  text-align: left;
}
.second {
  margin-top: 10px;
  margin-bottom: 3px;
}
.second h2,
.second .aside {
  white-space: nowrap;
}
</style>
