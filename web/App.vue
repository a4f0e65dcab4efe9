<script setup lang="ts">
import { darkTheme, NConfigProvider, NMessageProvider } from 'naive-ui'
import { storeToRefs } from 'pinia'
import { usePreferences } from './stores/preferences'
import { themes } from './styles/naive-theme'

const { theme } = storeToRefs(usePreferences())
</script>

<template>
  <NConfigProvider :theme="theme === 'dark' ? darkTheme : null" :theme-overrides="themes[theme]" abstract>
    <NMessageProvider placement="bottom" :max="3">
      <RouterView />
    </NMessageProvider>
  </NConfigProvider>
</template>
