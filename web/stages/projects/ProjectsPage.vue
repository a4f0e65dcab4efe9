<script setup lang="ts">
import { may, type ListedProject } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api/client'
import FilesButton from '../../parts/FilesButton.vue'
import FrontHead from '../../parts/FrontHead.vue'
import TextField from '../../parts/TextField.vue'
import AccountMenu from '../../shell/AccountMenu.vue'
import { useSession } from '../../stores/session'
import MembersDialog from './MembersDialog.vue'
import NameDialog from './NameDialog.vue'
import ProjectTable from './ProjectTable.vue'
import type { ProjectAction } from './project-actions'

const router = useRouter()
const session = useSession()
const projects = ref<readonly ListedProject[]>([])
const name = ref('')
const wanted = ref('')
const sentence = ref('')
const isLoaded = ref(false)
/** What is asked about a project before it is done. */
const asking = ref<{ what: 'rename' | 'duplicate' | 'members'; project: ListedProject } | null>(
  null,
)

const found = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return projects.value.filter((project) =>
    words.every((word) => `${project.name} ${project.by ?? ''}`.toLowerCase().includes(word)),
  )
})
const inState = (state: ListedProject['state']) =>
  found.value.filter((project) => project.state === state)

async function act(work: () => Promise<unknown>): Promise<boolean> {
  sentence.value = ''
  let isDone = true
  try {
    await work()
  } catch (error) {
    sentence.value = (error as Error).message
    isDone = false
  }
  const listed = await api.projects().catch(() => null)
  if (listed) projects.value = listed.projects
  isLoaded.value = isLoaded.value || listed !== null
  return isDone
}
onMounted(() => act(async () => (projects.value = (await api.projects()).projects)))

const open = (id: string) => router.push(`/p/${id}/overview`)
const create = () =>
  act(async () => open((await api.createProject(name.value.trim() || 'New project')).id))
function bringIn([file]: readonly File[]) {
  if (file) void act(async () => open((await api.importProject(file)).id))
}
function begin(what: ProjectAction, project: ListedProject) {
  if (what === 'rename' || what === 'duplicate' || what === 'members')
    asking.value = { what, project }
  else void act(() => api.setState(project.id, what))
}
async function named(as: string) {
  const { what, project } = asking.value!
  asking.value = null
  await act(() =>
    what === 'rename'
      ? api.renameProject(project.id, project.revision, as)
      : api.copyProject(project.id, as),
  )
}
const mayPlan = computed(() => session.user !== null && may(session.user.role, 'plan'))
</script>

<template>
  <main class="front wide">
    <FrontHead says="Distributed I/O, planned from the description files, ready for commissioning."
      ><span class="rest" /><AccountMenu
    /></FrontHead>
    <section class="listed" aria-label="Projects">
      <header class="row">
        <h2>Projects</h2>
        <span class="rest" />
        <TextField
          v-if="projects.length > 2"
          v-model:value="wanted"
          label="Find a project"
          type="search"
          placeholder="Name or person …"
        />
      </header>
      <ProjectTable
        v-if="isLoaded"
        label="Projects in use"
        :projects="inState('active')"
        :empty="
          wanted === ''
            ? 'There is no project yet. Create one, or open a project file.'
            : 'No project in use has these words.'
        "
        @act="begin"
      />
      <template v-if="inState('archived').length > 0">
        <h3>Archived: to look at and to duplicate</h3>
        <ProjectTable label="Archived projects" :projects="inState('archived')" @act="begin" />
      </template>
      <template v-if="inState('deleted').length > 0">
        <h3>Deleted: can be restored</h3>
        <ProjectTable label="Deleted projects" :projects="inState('deleted')" @act="begin" />
      </template>
    </section>
    <section v-if="mayPlan" class="row" aria-label="New project">
      <form class="row grow" @submit.prevent="create">
        <TextField
          v-model:value="name"
          class="grow"
          label="Name of the project"
          shown
          placeholder="Name of the plant"
          :more="{ maxlength: 200 }"
        />
        <NButton type="primary" attr-type="submit">Create project</NButton>
      </form>
      <FilesButton label="Project file or archive" accept=".json,.zip" @files="bringIn"
        >Open a project file or archive …</FilesButton
      >
    </section>
    <p v-if="sentence" class="told" role="alert">{{ sentence }}</p>
    <MembersDialog
      v-if="asking?.what === 'members'"
      :project="asking.project"
      @close="((asking = null), act(async () => undefined))"
    />
    <NameDialog
      v-else-if="asking"
      :what="asking.what"
      :project="asking.project"
      @named="named"
      @close="asking = null"
    />
  </main>
</template>

<style scoped>
.wide {
  max-width: 860px;
}
.listed {
  display: grid;
  gap: 8px;
}
h3 {
  margin-top: 14px;
}
.rest,
.grow {
  flex: 1;
}
.row {
  display: flex;
  gap: 8px;
  align-items: end;
}
</style>
