/** What the scripts print. */

export const say = (text) => console.log(text)

/** A fault that the reader can fix: printed as it is, without a stack. */
export class Fault extends Error {}

/** Runs something slow; says every few seconds that it is still at work. */
export async function step(text, work) {
  const from = Date.now()
  say(`- ${text}`)
  const timer = setInterval(() => say(`  still at it, ${Math.round((Date.now() - from) / 1000)} s`), 10_000)
  try {
    return await work()
  } finally {
    clearInterval(timer)
  }
}
