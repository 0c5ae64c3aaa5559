<script setup lang="ts" generic="T extends string">
/** A bench in pages: the strip of names, and under it the page that is open. */
import SubTabs from './SubTabs.vue'

const page = defineModel<T>({ required: true })
defineProps<{ pages: { key: T; label: string; mark?: string }[]; name: string }>()
</script>

<template>
  <div class="pages">
    <SubTabs v-model="page" :pages="pages" :name="name" />
    <div :id="`page-${page}`" class="page" role="tabpanel" :aria-labelledby="`tab-${page}`"><slot /></div>
  </div>
</template>

<style scoped>
.pages {
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-height: 0;
}
.page {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
}
.page > :deep(*) {
  min-height: 0;
  min-width: 0;
}
</style>
