<script setup lang="ts">
/** Steps to put in order, by keys that move one up or down. */
import { nextTick, ref } from 'vue'
import { said } from '../ui/locale'

defineProps<{ items: readonly { key: string; text: string }[] }>()
const order = defineModel<string[]>({ required: true })
const list = ref<HTMLElement | null>(null)
async function move(at: number, by: -1 | 1): Promise<void> {
  const to = at + by
  const next = [...order.value]
  const [one] = next.splice(at, 1)
  if (one === undefined || to < 0 || to > next.length) return
  next.splice(to, 0, one)
  order.value = next
  await nextTick()
  list.value?.querySelector<HTMLElement>(`[data-at="${String(to)}"] [data-way="${String(by)}"]`)?.focus()
}
</script>

<template>
  <ol ref="list" aria-label="Steps in order">
    <li v-for="(key, at) in order" :key="key" :data-at="at" :data-step="key">
      <div>
        <span>{{ said(items.find((item) => item.key === key)?.text ?? '') }}</span>
        <button
          type="button"
          data-way="-1"
          :aria-label="`Step ${at + 1} up`"
          :disabled="at === 0"
          @click="move(at, -1)"
        >
          ▲
        </button>
        <button
          type="button"
          data-way="1"
          :aria-label="`Step ${at + 1} down`"
          :disabled="at === order.length - 1"
          @click="move(at, 1)"
        >
          ▼
        </button>
      </div>
    </li>
  </ol>
</template>

<style scoped>
ol {
  margin: 0;
  padding-left: 24px;
}
li {
  border-top: 1px solid var(--hair);
}
li > div {
  display: flex;
  align-items: center;
}
span {
  flex: 1;
  min-width: 0;
  padding: 6px 0;
}
button {
  flex: none;
  width: 46px;
  height: 44px;
  margin-left: 6px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  color: inherit;
  cursor: pointer;
}
button:disabled {
  color: var(--edge);
  cursor: default;
}
</style>
