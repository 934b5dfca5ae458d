import { ref, watchEffect } from 'vue'

type Theme = 'light' | 'dark' | 'system'

const KEY = 'iron-kite-theme'
const dark = window.matchMedia('(prefers-color-scheme: dark)')
const prefersDark = ref(dark.matches)
dark.addEventListener('change', (event) => (prefersDark.value = event.matches))

/** What the person chose; the system decides until then. */
export const theme = ref<Theme>((localStorage.getItem(KEY) as Theme | null) ?? 'system')

watchEffect(() => {
  localStorage.setItem(KEY, theme.value)
  const shown = theme.value === 'system' ? (prefersDark.value ? 'dark' : 'light') : theme.value
  document.documentElement.dataset.bsTheme = shown
})
