const BROWSERS: [RegExp, string][] = [
  [/Edg(?:e|A|iOS)?\//, 'Edge'],
  [/Firefox\/|FxiOS\//, 'Firefox'],
  [/Chrom(?:e|ium)\/|CriOS\//, 'Chrome or Chromium'],
  [/Safari\//, 'Safari'],
]
const SYSTEMS: [RegExp, string][] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'macOS'],
  [/Linux|X11/, 'Linux'],
]

/**
 * A browser by what it says of itself, as people call it.
 * @example browserOf('Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0') // 'Firefox on Linux'
 */
export function browserOf(agent: string): string {
  const browser = BROWSERS.find(([sign]) => sign.test(agent))?.[1]
  const system = SYSTEMS.find(([sign]) => sign.test(agent))?.[1]
  if (!browser) return agent.slice(0, 60) || 'An unknown browser'
  return system ? `${browser} on ${system}` : browser
}
