/** Which of a person's pages this window is: 1, or that of a second screen. It keeps it from place to place. */
const KEPT_AS = 'heron-page'
export const SECOND_PAGE = '/?page=2'

let known: number | null = null

export function pageNumber(): number {
  if (known !== null) return known
  known = 1
  try {
    const asked = new URLSearchParams(window.location.search).get('page')
    const page = Number(asked ?? sessionStorage.getItem(KEPT_AS) ?? 1)
    if (Number.isInteger(page) && page >= 1 && page <= 9) known = page
    sessionStorage.setItem(KEPT_AS, String(known))
  } catch {
    // Without a store the address alone tells it.
  }
  return known
}
