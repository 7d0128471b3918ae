/** Dates as people at a desk read them. */
export const dayAndTime = (iso: string): string =>
  new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  })

/** As a `datetime-local` field has it, in this computer's time. */
export function localInput(date: Date): string {
  const two = (n: number) => String(n).padStart(2, '0')
  const day = `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
  return `${day}T${two(date.getHours())}:${two(date.getMinutes())}`
}
