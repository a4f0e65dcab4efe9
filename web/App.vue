<script setup lang="ts">
import { darkTheme, NConfigProvider, NMessageProvider } from 'naive-ui'
import { storeToRefs } from 'pinia'
import SignInPage from './stages/accounts/SignInPage.vue'
import { usePreferences } from './stores/preferences'
import { useSession } from './stores/session'
import { themes } from './styles/naive-theme'

const { theme } = storeToRefs(usePreferences())
const session = useSession()
void session.load()
</script>

<template>
  <NConfigProvider :theme="theme === 'dark' ? darkTheme : null" :theme-overrides="themes[theme]" abstract>
    <NMessageProvider placement="bottom" :max="3">
      <RouterView v-if="session.user" :key="session.user.id" />
      <SignInPage v-else-if="session.session" />
      <p v-else class="empty" role="status">{{ session.sentence || 'One moment …' }}</p>
    </NMessageProvider>
  </NConfigProvider>
</template>
