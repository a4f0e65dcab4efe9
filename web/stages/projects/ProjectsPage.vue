<script setup lang="ts">
import { NButton } from 'naive-ui'
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api/client'
import FilesButton from '../../parts/FilesButton.vue'
import FrontHead from '../../parts/FrontHead.vue'
import TextField from '../../parts/TextField.vue'
import AccountMenu from '../../shell/AccountMenu.vue'

const router = useRouter()
const projects = ref<{ id: string; name: string; revision: number }[]>([])
const name = ref('')
const sentence = ref('')
const isLoaded = ref(false)

onMounted(async () => {
  try {
    projects.value = (await api.projects()).projects
    isLoaded.value = true
  } catch (error) {
    sentence.value = (error as Error).message
  }
})
async function create() {
  try {
    const { id } = await api.createProject(name.value.trim() || 'New project')
    await router.push(`/p/${id}/overview`)
  } catch (error) {
    sentence.value = (error as Error).message
  }
}
async function bringIn([file]: readonly File[]) {
  if (!file) return
  try {
    const { id } = await api.importProject(file)
    await router.push(`/p/${id}/overview`)
  } catch (error) {
    sentence.value = `${file.name}: ${(error as Error).message}`
  }
}
</script>

<template>
  <main class="front">
    <FrontHead says="Distributed I/O, planned from the description files, ready for commissioning."
      ><span class="rest" /><AccountMenu
    /></FrontHead>
    <section aria-label="Projects">
      <h2>Projects</h2>
      <ul v-if="projects.length > 0">
        <li v-for="project in projects" :key="project.id">
          <RouterLink :to="`/p/${project.id}/overview`"
            ><strong>{{ project.name }}</strong
            ><span class="quiet mono">r{{ project.revision }}</span></RouterLink
          >
        </li>
      </ul>
      <p v-else-if="isLoaded" class="quiet">
        There is no project yet. Create one, or open a project file.
      </p>
    </section>
    <section class="new" aria-label="New project">
      <form @submit.prevent="create">
        <div class="row">
          <TextField
            v-model:value="name"
            label="Name of the project"
            shown
            placeholder="Name of the plant"
            :more="{ maxlength: 200 }"
          />
          <NButton type="primary" attr-type="submit">Create project</NButton>
        </div>
      </form>
      <div>
        <FilesButton label="Project file or archive" accept=".json,.zip" @files="bringIn"
          >Open a project file or archive …</FilesButton
        >
      </div>
    </section>
    <p v-if="sentence" class="told" role="alert">{{ sentence }}</p>
  </main>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  border-top: 1px solid var(--line);
}
li a {
  display: flex;
  justify-content: space-between;
  padding: 10px 4px;
  border-bottom: 1px solid var(--line);
  color: var(--ink);
  text-decoration: none;
}
li a:hover {
  background: var(--paper-2);
}
.rest {
  flex: 1;
}
.new {
  display: grid;
  gap: 16px;
}
.row {
  display: flex;
  gap: 8px;
}
</style>
