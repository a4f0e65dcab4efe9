<script setup lang="ts">
import { plural } from '@kataxis/core'
import { CircleQuestionMark, History, Moon, Redo2, Search, Sun, Undo2 } from '@lucide/vue'
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import LinkButton from '../parts/LinkButton.vue'
import { usePreferences } from '../stores/preferences'
import { initialsOf, usePresence } from '../stores/presence'
import { useProject } from '../stores/project'
import { useRehearsal } from '../stores/rehearsal'
import { useShelf } from '../stores/shelf'
import AccountMenu from './AccountMenu.vue'
import JobsMenu from './JobsMenu.vue'

defineEmits<{ find: []; aside: []; help: [] }>()
const project = useProject()
const shelf = useShelf()
const preferences = usePreferences()
const presence = usePresence()
const rehearsal = useRehearsal()
const route = useRoute()

const stages = computed(() => {
  const totals = project.derived?.totals
  const tally = rehearsal.tally
  const stations = totals?.stations ?? 0
  return [
    { name: 'overview', label: 'Overview', figure: '', unit: '' },
    {
      name: 'shelf',
      label: 'Shelf',
      figure: String(shelf.files.length),
      unit: plural(shelf.files.length, 'file'),
    },
    {
      name: 'board',
      label: 'Board',
      figure: String(stations),
      unit: plural(stations, 'station'),
    },
    {
      name: 'ledger',
      label: 'Ledger',
      figure: `${totals?.named ?? 0}/${totals?.channels ?? 0}`,
      unit: 'named',
    },
    {
      name: 'memory',
      label: 'Memory',
      figure: `${shortBytes(totals?.bytes ?? 0)}/${shortBytes(totals?.imageBytes ?? 0)}`,
      unit: '',
    },
    {
      name: 'networks',
      label: 'Networks',
      figure: String(Object.keys(project.plan?.networks ?? {}).length),
      unit: plural(Object.keys(project.plan?.networks ?? {}).length, 'network'),
    },
    {
      name: 'rehearsal',
      label: 'Rehearsal',
      figure: tally ? `${tally.fine}/${tally.all}` : '–',
      unit: 'ready',
    },
    {
      name: 'handover',
      label: 'Handover',
      figure: !project.findings ? '…' : project.findings.blockers > 0 ? 'draft' : 'ready',
      unit: '',
    },
  ]
})

/** Of the others who are here; the rest are counted. */
const mostShown = 3
const more = computed(() => presence.people.slice(mostShown).map(({ author }) => author))

const shortBytes = (bytes: number) =>
  bytes < 1000 ? `${bytes} B` : `${(bytes / 1000).toPrecision(bytes < 10_000 ? 2 : 3)} kB`
const linkWords = computed(
  () =>
    project.linkWords ??
    (project.isOffline
      ? 'Offline: the last plan this browser saw'
      : `Saved · r${project.revision}`),
)
</script>

<template>
  <header class="bar">
    <RouterLink to="/" class="project" :title="`${project.plan?.project.name ?? ''}: all projects`">
      <svg class="mark" viewBox="0 0 32 32" aria-hidden="true">
        <path class="trunk" d="M4 4h4v24H4z" />
        <path d="M10 6h8v4h-8zm10 0h8v4h-8zM10 14h8v4h-8zM10 22h8v4h-8zm10 0h8v4h-8z" />
      </svg>
      <span class="name">{{ project.plan?.project.name ?? 'Kataxis' }}</span>
    </RouterLink>
    <nav aria-label="Stages">
      <RouterLink
        v-for="stage in stages"
        :key="stage.name"
        :to="{ name: stage.name, params: { project: route.params['project'] } }"
        class="stage-link"
      >
        <span>{{ stage.label }}</span>
        <small>{{ stage.figure }} {{ stage.unit }}</small>
      </RouterLink>
    </nav>
    <span class="link" :class="project.link" role="status" data-testid="link" :title="linkWords">{{
      linkWords
    }}</span>
    <NButton
      v-if="project.aside.length > 0"
      size="small"
      type="error"
      secondary
      data-testid="aside"
      @click="$emit('aside')"
      >{{ project.aside.length }} set aside</NButton
    >
    <JobsMenu />
    <NButton
      class="find"
      aria-label="Find or do"
      title="Find or do something (Ctrl K)"
      @click="$emit('find')"
    >
      <template #icon><Search :size="14" aria-hidden="true" /></template>
      <span>Find</span><kbd>Ctrl K</kbd>
    </NButton>
    <LinkButton
      quaternary
      :to="{ name: 'history', params: { project: route.params['project'] } }"
      aria-label="History"
      title="Who changed what; versions; back to an earlier state"
      ><History :size="16"
    /></LinkButton>
    <NButton
      quaternary
      aria-label="Undo"
      title="Undo (Ctrl Z)"
      :disabled="!project.plan"
      @click="project.undo()"
    >
      <Undo2 :size="16" />
    </NButton>
    <NButton
      quaternary
      aria-label="Redo"
      title="Redo (Ctrl Y)"
      :disabled="!project.plan"
      @click="project.redo()"
    >
      <Redo2 :size="16" />
    </NButton>
    <NButton
      quaternary
      aria-label="Help"
      title="What this page is for, and its keys (?)"
      @click="$emit('help')"
    >
      <CircleQuestionMark :size="16" />
    </NButton>
    <NButton
      quaternary
      :aria-label="preferences.theme === 'dark' ? 'Light theme' : 'Dark theme'"
      title="Light or dark"
      @click="preferences.toggleTheme()"
    >
      <Sun v-if="preferences.theme === 'dark'" :size="16" /><Moon v-else :size="16" />
    </NButton>
    <span
      v-for="person in presence.people.slice(0, mostShown)"
      :key="person.client"
      class="who other"
      :title="`${person.author} is here too`"
      >{{ initialsOf(person.author) }}</span
    >
    <span v-if="more.length > 0" class="who other" :title="`${more.join(', ')} too`"
      >+{{ more.length }}</span
    >
    <AccountMenu />
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 2px;
  padding: 0 12px;
  height: 48px;
  border-bottom: 1px solid var(--line);
  background: var(--paper-2);
}
.project {
  display: flex;
  align-items: center;
  gap: 8px;
  color: var(--ink);
  text-decoration: none;
  font-weight: 600;
  max-width: 210px;
  margin-right: 6px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.mark {
  width: 22px;
  flex: none;
  fill: var(--ink);
}
.trunk {
  fill: var(--accent);
}
nav {
  display: flex;
  height: 100%;
}
.stage-link {
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding: 0 10px;
  color: var(--ink-2);
  text-decoration: none;
  white-space: nowrap;
  font-weight: 500;
  line-height: 1.2;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
}
.stage-link small {
  font: 11px/1.2 var(--narrow);
  color: var(--ink-3);
  font-variant-numeric: tabular-nums;
}
.stage-link.router-link-active {
  color: var(--ink);
  border-bottom-color: var(--accent);
  background: var(--paper);
}
.link {
  margin-left: auto;
  font: 12px/1 var(--narrow);
  color: var(--ink-3);
  padding: 5px 8px;
  border-radius: 3px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 0;
}
.link.away {
  background: var(--accent);
  color: var(--on-accent);
}
.find {
  color: var(--ink-3);
}
.find :deep(.n-button__content) {
  gap: 8px;
}
kbd {
  font: 11px/1 var(--mono);
  color: var(--ink-3);
}
.bar > .n-button:not(.find) {
  padding: 0 8px;
}
.bar > :not(.project, .link) {
  flex: none;
}
.who {
  width: 28px;
  height: 28px;
  border-radius: 50%;
  font: 600 11px/1 var(--sans);
  display: grid;
  place-items: center;
  background: var(--ink);
  color: var(--paper);
  box-shadow: 0 0 0 2px var(--paper-2);
}
/* Others lie upon each other like cards. */
.who.other + .who.other {
  margin-left: -6px;
}
@media (max-width: 1400px) {
  kbd {
    display: none;
  }
}
@media (max-width: 1150px) {
  .find span,
  .link {
    display: none;
  }
  .link.away {
    display: inline;
  }
  .find {
    margin-left: auto;
  }
  .bar {
    padding: 0 8px;
  }
  .project {
    max-width: 112px;
    margin-right: 0;
  }
  .stage-link {
    padding: 0 5px;
    font-size: 13px;
  }
  .bar > .n-button:not(.find) {
    padding: 0 5px;
  }
}
</style>
