/** Every colour of the interface, once; `theme.ts` and the style sheets take them from here. */
export const colours = {
  light: {
    paper: '#faf7f1',
    'paper-2': '#f1ece3',
    'paper-3': '#e4ddd0',
    line: '#d3cabb',
    ink: '#1b2130',
    'ink-2': '#4b5263',
    'ink-3': '#5b6170',
    'ink-faint': '#a9a598',
    accent: '#bb2d16',
    'accent-soft': '#f7ded6',
    'on-accent': '#ffffff',
    warn: '#8a5a00',
    good: '#1f6b4a',
    veil: 'rgb(27 33 48 / 28%)',
    'band-1': '#2f5f7e',
    'band-2': '#6b4f8a',
    'band-3': '#4f7036',
    'band-4': '#8a4f5c',
  },
  dark: {
    paper: '#10141d',
    'paper-2': '#171d29',
    'paper-3': '#222a39',
    line: '#333d50',
    ink: '#ece8df',
    'ink-2': '#b9bcc6',
    'ink-3': '#979dac',
    'ink-faint': '#596276',
    accent: '#ff7a5c',
    'accent-soft': '#3a2220',
    'on-accent': '#1a0d0a',
    warn: '#e0ae4d',
    good: '#6fc79c',
    veil: 'rgb(0 0 0 / 55%)',
    'band-1': '#7db4d6',
    'band-2': '#b79bdb',
    'band-3': '#9cc27c',
    'band-4': '#d99aa8',
  },
} as const

export const fonts = {
  sans: "'IBM Plex Sans', system-ui, sans-serif",
  narrow: "'IBM Plex Sans Condensed', 'IBM Plex Sans', sans-serif",
  mono: "'IBM Plex Mono', monospace",
} as const

export type ThemeName = keyof typeof colours
export type Colours = Readonly<Record<keyof typeof colours.light, string>>

/** The table as CSS variables, for both themes. */
export function tokenRules(): string {
  const variables = (values: Readonly<Record<string, string>>) =>
    Object.entries(values)
      .map(([name, value]) => `--${name}: ${value};`)
      .join('')
  return [
    `:root { ${variables(fonts)} ${variables(colours.light)} color-scheme: light; }`,
    `:root[data-theme='dark'] { ${variables(colours.dark)} color-scheme: dark; }`,
  ].join('\n')
}

/** Puts the variables into the page. */
export function applyTokens(): void {
  const style = document.createElement('style')
  style.textContent = tokenRules()
  document.head.prepend(style)
}
