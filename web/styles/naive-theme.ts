import type { GlobalThemeOverrides } from 'naive-ui'

const fonts = {
  fontFamily: "'IBM Plex Sans', system-ui, sans-serif",
  fontFamilyMono: "'IBM Plex Mono', monospace",
  borderRadius: '3px',
}

function overrides(
  accent: string,
  paper: string,
  raised: string,
  ink: string,
  line: string,
): GlobalThemeOverrides {
  return {
    common: {
      ...fonts,
      primaryColor: accent,
      primaryColorHover: accent,
      primaryColorPressed: accent,
      primaryColorSuppl: accent,
      bodyColor: paper,
      cardColor: paper,
      modalColor: paper,
      popoverColor: raised,
      textColorBase: ink,
      borderColor: line,
      infoColor: ink,
      infoColorHover: ink,
      infoColorPressed: ink,
    },
    Badge: { color: ink },
    Button: { fontWeight: '500', fontSizeSmall: '13px' },
    Input: { color: paper, colorFocus: paper, fontSizeSmall: '13px' },
  }
}

export const themes = {
  light: overrides('#bb2d16', '#faf7f1', '#faf7f1', '#1b2130', '#d3cabb'),
  dark: overrides('#ff7a5c', '#10141d', '#171d29', '#ece8df', '#333d50'),
}
