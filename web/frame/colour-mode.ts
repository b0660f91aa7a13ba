import { useSyncExternalStore } from 'react'

export type Mode = 'light' | 'dark'
const STORE = 'vine-mode'
const system = window.matchMedia('(prefers-color-scheme: dark)')
const read = (): Mode => {
  const own = localStorage.getItem(STORE)
  return own === 'dark' || own === 'light' ? own : system.matches ? 'dark' : 'light'
}
const listeners = new Set<() => void>()

export function applyMode(): void {
  const mode = read()
  document.documentElement.classList.toggle('dark', mode === 'dark')
  document.documentElement.classList.toggle('light', mode === 'light')
  document.documentElement.style.colorScheme = mode
  listeners.forEach(l => l())
}
system.addEventListener('change', applyMode)

export const setMode = (mode: Mode): void => {
  localStorage.setItem(STORE, mode)
  applyMode()
}
export const useMode = (): Mode =>
  useSyncExternalStore(l => {
    listeners.add(l)
    return () => listeners.delete(l)
  }, read)
