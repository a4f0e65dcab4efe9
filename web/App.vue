<script setup lang="ts">
import { darkTheme, NConfigProvider, NMessageProvider } from 'naive-ui'
import { storeToRefs } from 'pinia'
import SignInPage from './stages/accounts/SignInPage.vue'
import { usePreferences } from './stores/preferences'
import { useProject } from './stores/project'
import { useSession } from './stores/session'
import { themes } from './styles/theme'

const { theme } = storeToRefs(usePreferences())
const session = useSession()
const project = useProject()
// The plan is fetched beside the stage that shows it.
void session.load().then(() => {
  const [, id] = /^\/p\/([^/]+)/.exec(location.pathname) ?? []
  if (id !== undefined && session.user && project.id !== id) void project.open(id)
})
</script>

<template>
  <NConfigProvider
    :theme="theme === 'dark' ? darkTheme : null"
    :theme-overrides="themes[theme]"
    abstract
  >
    <NMessageProvider placement="bottom" :max="3">
      <!-- A session that ends lays the sign-in over what somebody was doing, so that nothing typed
           is lost. -->
      <div v-if="session.guest" :key="session.guest" class="inside" :inert="!session.user">
        <RouterView />
      </div>
      <div v-if="session.session && !session.user" :class="{ over: session.guest }">
        <SignInPage />
      </div>
      <p v-else-if="!session.session" class="empty" role="status">
        {{ session.sentence || 'One moment …' }}
      </p>
    </NMessageProvider>
  </NConfigProvider>
</template>

<style scoped>
.inside {
  height: 100%;
}
.over {
  position: fixed;
  inset: 0;
  z-index: 100;
  overflow: auto;
  background: var(--paper);
}
</style>
