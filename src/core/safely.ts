/**
 * What comes from elsewhere, read without an exception: null if it makes no sense. Whatever reads what a
 * network or a person sends goes through these.
 */

export function parsedUrl(text: string): URL | null {
  try {
    return new URL(text)
  } catch {
    return null
  }
}

/** @returns undefined where it is no JSON; `null` is JSON too */
export function parsedJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    return undefined
  }
}
