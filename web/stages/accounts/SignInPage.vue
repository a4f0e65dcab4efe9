<script setup lang="ts">
import { roles } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import FrontHead from '../../parts/FrontHead.vue'
import TextField from '../../parts/TextField.vue'
import { useSession } from '../../stores/session'

/** Sign in; or, on a fresh instance, become its owner. */
const session = useSession()
const name = ref('')
const fullName = ref('')
const password = ref('')
const isBusy = ref(false)
const needsOwner = computed(() => session.session?.needsOwner ?? false)
const demo = computed(() => session.session?.demo ?? null)

async function go(work: () => Promise<void>): Promise<void> {
  isBusy.value = true
  await work()
  isBusy.value = false
}
const enter = () =>
  go(() =>
    needsOwner.value
      ? session.becomeOwner(name.value, fullName.value, password.value)
      : session.signIn(name.value, password.value),
  )
const enterAs = (account: string) => go(() => session.signIn(account, demo.value!.password))
</script>

<template>
  <main class="front">
    <FrontHead
      :says="
        needsOwner
          ? 'This instance is new. Its owner manages the other accounts.'
          : 'Distributed I/O, planned from the description files.'
      "
    />
    <form @submit.prevent="enter">
      <TextField
        v-model:value="name"
        label="Name"
        shown
        :more="{ name: 'username', autocomplete: 'username', required: true, maxlength: 60 }"
      />
      <TextField
        v-if="needsOwner"
        v-model:value="fullName"
        label="Full name, under which changes are signed"
        shown
        :more="{ autocomplete: 'name', maxlength: 100 }"
      />
      <TextField
        v-model:value="password"
        :label="`Password${needsOwner ? ', at least 8 characters' : ''}`"
        shown
        type="password"
        :more="{
          name: 'password',
          autocomplete: needsOwner ? 'new-password' : 'current-password',
          required: true,
          maxlength: 200,
        }"
      />
      <NButton type="primary" attr-type="submit" :disabled="isBusy">
        {{ needsOwner ? 'Become the owner' : 'Sign in' }}
      </NButton>
    </form>
    <p v-if="session.sentence" class="told" role="alert">{{ session.sentence }}</p>
    <section v-if="demo" aria-label="Accounts of the demo">
      <h2>The demo has an account for each role</h2>
      <p class="quiet">
        The password of all is <span class="mono">{{ demo.password }}</span>.
      </p>
      <ul>
        <li v-for="account in demo.accounts" :key="account.name">
          <button class="enter" :disabled="isBusy" @click="enterAs(account.name)">
            <strong>{{ roles[account.role].name }}</strong><span
              >{{ account.fullName }}, <span class="mono">{{ account.name }}</span></span
            ><span class="quiet">{{ roles[account.role].says }}</span>
          </button>
        </li>
      </ul>
    </section>
  </main>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
  justify-items: start;
}
label {
  width: 300px;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  border-top: 1px solid var(--line);
}
.enter {
  all: unset;
  box-sizing: border-box;
  width: 100%;
  display: grid;
  grid-template-columns: 130px 190px 1fr;
  gap: 10px;
  padding: 8px 4px;
  border-bottom: 1px solid var(--line);
  cursor: pointer;
}
.enter:hover {
  background: var(--paper-2);
}
.enter:focus-visible {
  outline: 2px solid var(--accent);
}
</style>
