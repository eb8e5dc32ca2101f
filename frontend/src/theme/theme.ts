export type Theme = 'light' | 'dark'

export function storedTheme(): Theme {
  return localStorage.getItem('theme') === 'dark' ? 'dark' : 'light'
}

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme
  localStorage.setItem('theme', theme)
  window.dispatchEvent(new Event('themechange'))
}

/** The present value of one of the colours in tokens.css. */
export function colour(token: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${token}`).trim()
}
