<script setup lang="ts" generic="T extends string">
/** A bench in pages: the strip of names, and under it the page that is open. */
import { watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import SubTabs from './SubTabs.vue'

const page = defineModel<T>({ required: true })
const props = defineProps<{ pages: { key: T; label: string; mark?: string }[]; name: string }>()
const route = useRoute()
const router = useRouter()
const first = () => props.pages[0]?.key
/** The page an address names; the first where it names none. */
const named = () => props.pages.find((item) => item.key === route.query.page)?.key ?? first()
/** A page has an address, so that Back and a link lead to it; the first needs none. */
function addressOf(key: T) {
  return { path: route.path, query: { ...route.query, page: key === first() ? undefined : key } }
}
if (route.query.page !== undefined) page.value = named() ?? page.value
else if (page.value !== first()) void router.replace(addressOf(page.value))
watch(page, (key) => {
  if (named() !== key) void router.push(addressOf(key))
})
const path = route.path
watch(
  () => route.query.page,
  () => {
    const wanted = named()
    if (route.path === path && wanted !== undefined && wanted !== page.value) page.value = wanted
  },
)
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
