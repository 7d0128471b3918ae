/** Which browser on what, from what a browser says of itself. */
const BROWSERS = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/(Chrome|Chromium|CriOS)\//, 'Chrome'],
  [/Safari\//, 'Safari'],
] as const
const SYSTEMS = [
  [/iPhone/, 'iPhone'],
  [/iPad/, 'iPad'],
  [/Android/, 'Android'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'Mac'],
  [/Linux/, 'Linux'],
] as const

export function deviceWords(agent: string): string {
  const named = (list: readonly (readonly [RegExp, string])[]) =>
    list.find(([pattern]) => pattern.test(agent))?.[1]
  const [browser, system] = [named(BROWSERS), named(SYSTEMS)]
  if (!browser) return 'A program'
  return system ? `${browser} on ${system}` : browser
}
