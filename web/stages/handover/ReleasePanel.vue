<script setup lang="ts">
import { numbered, plural, type ReleaseView } from '@kataxis/core'
import { NButton, NCheckbox } from 'naive-ui'
import { ref } from 'vue'
import TextField from '../../parts/TextField.vue'
import { timeWords } from '../../parts/time-words'
import { api } from '../../api/client'
import { useProject } from '../../stores/project'

/** Hands over: a name, signed by who is signed in, and the packages that went out before. */
const { releases, chosen, isDraft } = defineProps<{
  releases: readonly ReleaseView[]
  /** How many files go into the package. */
  chosen: number
  isDraft: boolean
  author: string
  fault: string
  /** How far the package is, in words; empty while none is written. */
  writing: string
}>()
const emit = defineEmits<{ release: [name: string, onlyChanged: boolean] }>()
const project = useProject()
const name = ref('')
const onlyChanged = ref(false)
function release(): void {
  emit('release', name.value.trim(), onlyChanged.value && releases.length > 0)
  name.value = ''
}
const short = (signature: string) => signature.slice(0, 8)
</script>

<template>
  <section class="release" aria-label="Release">
    <h2>Release</h2>
    <form @submit.prevent="release">
      <TextField
        v-model:value="name"
        label="Name of the release"
        shown
        placeholder="FAT 1"
        :more="{ maxlength: 100 }"
      />
      <NCheckbox v-if="releases.length > 0" v-model:checked="onlyChanged"
        >only files that changed since {{ releases[0]!.name }}</NCheckbox
      >
      <NButton
        type="primary"
        attr-type="submit"
        :disabled="name.trim() === '' || chosen === 0"
        :loading="writing !== ''"
      >
        {{ isDraft ? 'Release draft' : 'Release' }} · {{ chosen }} {{ plural(chosen, 'file') }}
      </NButton>
      <p class="quiet narrow">
        {{
          writing !== ''
            ? writing
            : chosen === 0
              ? 'Select the files of the package in the table.'
              : `One ZIP with a table of contents, signed by ${author}.`
        }}
      </p>
      <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    </form>
    <ul v-if="releases.length > 0" class="past" aria-label="Releases">
      <li v-for="one in releases" :key="one.name">
        <strong>{{ one.name }}</strong>
        <span class="quiet narrow"
          >r{{ one.revision }} · {{ timeWords(one.at) }} · {{ one.author }} ·
          {{ numbered(one.files.length, 'file') }}{{ one.blockers > 0 ? ' · draft' : ''
          }}{{ one.safetySignature ? ` · fail-safe ${short(one.safetySignature)}` : '' }}</span
        >
        <NButton size="tiny" tag="a" :href="api.releaseUrl(project.id, one.name)" download
          >Download</NButton
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.release,
form {
  display: grid;
  gap: 8px;
}
.past {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
.past li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 2px 8px;
  padding: 7px 0;
  border-top: 1px solid var(--line);
}
.past strong {
  overflow-wrap: anywhere;
}
.past .n-button {
  grid-row: 1 / 3;
  grid-column: 2;
  align-self: center;
}
.fault {
  color: var(--accent);
}
</style>
