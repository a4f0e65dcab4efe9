<script setup lang="ts">
/** What the marks in the tiles mean and what the keys do; further buttons go in front. */
</script>

<template>
  <div class="legend">
    <slot />
    <span
      ><svg width="12" height="12" aria-hidden="true">
        <path class="open" d="M2 2h8v8h-8z" />
      </svg>
      digital in</span
    >
    <span
      ><svg width="12" height="12" aria-hidden="true">
        <path class="full" d="M2 2h8v8h-8z" />
      </svg>
      digital out</span
    >
    <span
      ><svg width="12" height="12" aria-hidden="true">
        <circle class="open" cx="6" cy="6" r="4" />
      </svg>
      analog in</span
    >
    <span
      ><svg width="12" height="12" aria-hidden="true">
        <circle class="full" cx="6" cy="6" r="4" />
      </svg>
      analog out</span
    >
    <span
      ><svg width="12" height="12" aria-hidden="true">
        <path class="open" d="M6 1l5 5l-5 5l-5 -5z" />
      </svg>
      other data</span
    >
    <span>dark: named · pale: free</span>
    <span class="keys"
      >Arrows walk · Shift+arrows select · type to insert · Enter opens, Esc returns · Alt+arrows
      move · Del removes · Ctrl+D copies a station · Alt+R replaces · + − nearer, farther</span
    >
  </div>
</template>

<style scoped>
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  font: 12px/1.4 var(--narrow);
  color: var(--ink-2);
  padding-top: 8px;
  position: sticky;
  left: 0;
}
.legend svg {
  vertical-align: -2px;
}
.open {
  fill: none;
  stroke: var(--ink);
}
.full {
  fill: var(--ink);
}
</style>
