/**
 * Shows the live picture of the camera that the Desk will open on while the rest of the page is still being
 * loaded. Plain JavaScript, so that nothing else need be loaded first. The Desk says when it has something
 * to show itself.
 */
const STALE_MS = 2000

if (location.pathname === '/__base__/') showFirst().catch(() => {})

async function showFirst() {
  let over = false
  let end = () => {}
  document.addEventListener(
    'desk-open',
    () => {
      over = true
      end()
    },
    { once: true },
  )
  const camera = kept() ?? (await first())
  if (over || !camera) return
  const canvas = document.createElement('canvas')
  canvas.id = 'first-picture'
  canvas.hidden = true
  canvas.ariaHidden = 'true'
  document.body.append(canvas)
  const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
  const socket = new WebSocket(`${scheme}://${location.host}/__base__/live/pictures`)
  socket.binaryType = 'arraybuffer'
  const say = (message) => socket.readyState === WebSocket.OPEN && socket.send(JSON.stringify(message))
  let timer = 0
  end = () => {
    canvas.remove()
    socket.close()
  }
  socket.onopen = () => say({ t: 'watch', cameras: [{ id: camera, perSec: 8 }] })
  socket.onclose = () => canvas.remove()
  socket.onmessage = async ({ data }) => {
    // Why there is no picture: the Desk will say so.
    if (typeof data === 'string') return end()
    try {
      await draw(canvas, data)
      canvas.hidden = false
      clearTimeout(timer)
      timer = setTimeout(() => {
        canvas.hidden = true
      }, STALE_MS)
    } catch {
      // A damaged picture is skipped.
    }
    say({ t: 'shown', camera })
  }
}

/** The camera that this tab had on the Desk; null if none. */
function kept() {
  try {
    return JSON.parse(sessionStorage.getItem('heron-selection')).state.primary
  } catch {
    return null
  }
}

async function first() {
  const answer = await fetch('/__base__/api/desk')
  if (!answer.ok) return null
  const { cameras } = await answer.json()
  return (cameras.find((c) => c.enabled) ?? cameras[0])?.id ?? null
}

/** @param data a frame as src/core/live/pictureFrame.ts lays it out: 20 bytes, the camera's id, the JPEG */
async function draw(canvas, data) {
  const jpeg = new Uint8Array(data, 20 + new Uint8Array(data)[1])
  if (jpeg.length === 0) return
  const bitmap = await createImageBitmap(new Blob([jpeg], { type: 'image/jpeg' }))
  canvas.width = bitmap.width
  canvas.height = bitmap.height
  canvas.getContext('2d').drawImage(bitmap, 0, 0)
  bitmap.close()
}
