/** The folder of all that is kept, and the mark of who is using it. */
import { mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Fault } from './say.mjs'

const NEEDED_BYTES = 200 * 1024 * 1024

function alive(pid) {
  try {
    process.kill(pid, 0)
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('node')
  } catch {
    return false
  }
}

/** Makes the folder fit for use and marks it; returns how to remove the mark. */
export function claimDataFolder(folder, address) {
  const mark = join(folder, 'running.json')
  try {
    mkdirSync(folder, { recursive: true })
  } catch (error) {
    throw new Fault(
      `The data folder ${folder} cannot be made (${error.code}). Set HERON_DATA to a folder that can.`,
    )
  }
  let other = null
  try {
    other = JSON.parse(readFileSync(mark, 'utf8'))
  } catch {}
  if (other && other.pid !== process.pid && alive(other.pid)) {
    throw new Fault(
      `Steady Heron already runs with this data folder, at ${other.address}. Open that, or stop it first.`,
    )
  }
  const { bavail, bsize } = statfsSync(folder)
  if (bavail * bsize < NEEDED_BYTES) {
    throw new Fault(
      `The disk that holds ${folder} is full: 200 MB must be free. Make room, then start again.`,
    )
  }
  try {
    writeFileSync(mark, JSON.stringify({ pid: process.pid, address }))
  } catch (error) {
    throw new Fault(
      `The data folder ${folder} cannot be written (${error.code}). Mend its rights, or set HERON_DATA.`,
    )
  }
  return () => rmSync(mark, { force: true })
}

/** Settings that stay as they were at the first start: the stand-ins' network, and the port of their tally. */
export function keptSettings(folder, fresh) {
  const file = join(folder, 'settings.json')
  try {
    return { ...fresh, ...JSON.parse(readFileSync(file, 'utf8')) }
  } catch {
    writeFileSync(file, JSON.stringify(fresh))
    return fresh
  }
}
