<script setup lang="ts">
/** Settings in pages: the sheet with every source, and the charge profile with what it is judged by. */
import { useSessionStorage } from '@vueuse/core'
import { defineAsyncComponent } from 'vue'
import BenchPages from '../../ui/BenchPages.vue'
import SettingsSheet from './SettingsSheet.vue'

type Page = 'sheet' | 'profile' | 'sources'
const SettingsProfile = defineAsyncComponent(() => import('./SettingsProfile.vue'))
const SettingsSources = defineAsyncComponent(() => import('./SettingsSources.vue'))
const page = useSessionStorage<Page>('olvask.settings', 'sheet')
const pages: { key: Page; label: string }[] = [
  { key: 'sheet', label: 'Sheet and sources' },
  { key: 'profile', label: 'Charge profile' },
  { key: 'sources', label: 'Other sources' },
]
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Settings pages">
    <SettingsSheet v-if="page === 'sheet'" />
    <SettingsProfile v-else-if="page === 'profile'" />
    <SettingsSources v-else />
  </BenchPages>
</template>
