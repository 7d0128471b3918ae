/** Passwords that cameras come with, or that anybody tries first. */
const WEAK = new Set([
  '',
  'admin',
  'root',
  'user',
  'password',
  'pass',
  'default',
  'camera',
  'service',
  'guest',
])

/** A sentence where a login is as good as none; null if it is not. */
export function weakPasswordWarning(what: string, user: string, password: string): string | null {
  if (user === '') return null
  const known =
    WEAK.has(password.toLowerCase()) || /^(\d)\1*$/.test(password) || /^0?12345?6?7?8?9?0?$/.test(password)
  if (!known && password.toLowerCase() !== user.toLowerCase()) return null
  return password === ''
    ? `${what} has no password. Anybody on this network can drive it: set one in the camera, then here.`
    : `${what} has a password that everybody knows. Set another in the camera, then here.`
}
