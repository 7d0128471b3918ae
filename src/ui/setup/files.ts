/** Choosing a file, and saving one. */
import { under } from '../live/base'

/** The chosen file; null if none was. */
export function chooseFile(accept: string): Promise<File | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input')
    input.type = 'file'
    input.accept = accept
    input.style.display = 'none'
    input.dataset.testid = 'file-input'
    const end = (file: File | null) => {
      input.remove()
      resolve(file)
    }
    input.onchange = () => end(input.files?.[0] ?? null)
    input.oncancel = () => end(null)
    document.body.append(input)
    input.click()
  })
}

/** The server sends it as a download. */
export function saveFrom(path: string): void {
  const link = document.createElement('a')
  link.href = under(path)
  link.download = ''
  link.click()
}

/** A text that this page has, as a download. */
export function saveText(name: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}
