<script setup lang="ts">
/** The bar of the screens outside a job. */
import { answered, client } from '../api/client'
import { me } from '../api/signedIn'
import Button from '../ui/prime/button'
import { forget } from '../vehicle/held'

async function leave(): Promise<void> {
  await answered(client.POST('/api/sign-out'))
  await forget()
  location.assign('/')
}
defineProps<{ where: 'Yard' | 'Shelf' | 'House' | 'Practice'; night: boolean }>()
defineEmits<{ night: [] }>()
</script>

<template>
  <header class="bar">
    <h1 class="brand">Olvask</h1>
    <nav aria-label="Main">
      <RouterLink to="/" :aria-current="where === 'Yard' ? 'page' : undefined">Yard</RouterLink
      ><RouterLink to="/shelf/chargers" :aria-current="where === 'Shelf' ? 'page' : undefined">Shelf</RouterLink
      ><RouterLink to="/house" :aria-current="where === 'House' ? 'page' : undefined">House rules</RouterLink
      ><RouterLink to="/practice" :aria-current="where === 'Practice' ? 'page' : undefined">Practice</RouterLink>
    </nav>
    <span class="grow" />
    <span v-if="me" class="muted who">{{ me.name }}</span>
    <Button v-if="me" label="Sign out" size="small" severity="secondary" variant="text" data-sign-out @click="leave" />
    <Button
      :label="night ? 'Day' : 'Night'"
      :icon="night ? 'pi pi-sun' : 'pi pi-moon'"
      size="small"
      severity="secondary"
      variant="text"
      @click="$emit('night')"
    />
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 18px;
  height: 46px;
  padding: 0 24px;
  border-bottom: 1px solid var(--hair);
}
.brand {
  color: var(--copper);
  font-size: var(--title);
  font-weight: 600;
}
.grow {
  flex: 1;
}
nav {
  display: flex;
  height: 100%;
}
nav a {
  display: flex;
  align-items: center;
  padding: 2px 12px 0;
  text-decoration: none;
  color: var(--muted);
  border-bottom: 3px solid transparent;
}
nav a[aria-current] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--copper);
}
@media (max-width: 1100px) {
  .bar {
    padding: 0 14px;
  }
}
@media (max-width: 700px) {
  .bar {
    gap: 4px;
    padding: 0 10px;
  }
  nav {
    overflow-x: auto;
    min-width: 0;
    flex: 1 1 auto;
  }
  nav a {
    padding: 2px 6px 0;
    white-space: nowrap;
  }
  .grow {
    display: none;
  }
  .brand {
    flex: none;
  }
  .bar :deep(.p-button) {
    padding-inline: 6px;
  }
}
</style>
