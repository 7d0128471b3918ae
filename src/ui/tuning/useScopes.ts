/** Scopes of a live picture, ten times a second, counted by a worker and drawn on canvases. */
import { type RefObject, useEffect, useState } from 'react'
import type { Mark, Pixels, Scope } from '../../core/picture/scopes'
import type { ScopesAsked, ScopesDrawn } from '../workers/scopes'

const EVERY_MS = 100

export interface ScopeCanvas {
  scope: Scope
  canvas: RefObject<HTMLCanvasElement | null>
  width: number
  height: number
}

function paint(canvas: HTMLCanvasElement | null, { data, width, height }: Pixels): void {
  if (!canvas) return
  if (canvas.width !== width) canvas.width = width
  if (canvas.height !== height) canvas.height = height
  canvas
    .getContext('2d')
    ?.putImageData(new ImageData(data as Uint8ClampedArray<ArrayBuffer>, width, height), 0, 0)
}

/** @returns the share of the picture that is clipped and crushed; null before the first picture */
export function useScopes(
  picture: RefObject<HTMLCanvasElement | null>,
  scopes: readonly ScopeCanvas[],
  mark: { mark: Mark; canvas: RefObject<HTMLCanvasElement | null> } | null,
): { clipped: number; crushed: number } | null {
  const [found, setFound] = useState<{ clipped: number; crushed: number } | null>(null)
  const asked = JSON.stringify([scopes.map(({ scope, width, height }) => [scope, width, height]), mark?.mark])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text says which scopes and which mark
  useEffect(() => {
    const worker = new Worker(new URL('../workers/scopes.ts', window.location.href))
    let waiting = false
    worker.onmessage = ({ data }: MessageEvent<ScopesDrawn>) => {
      waiting = false
      data.scopes.forEach((drawn, i) => {
        paint(scopes[i]?.canvas.current ?? null, drawn)
      })
      if (data.mark && mark) paint(mark.canvas.current, data.mark)
      const share = (x: number) => Math.round(x * 1000) / 1000
      setFound((before) =>
        before?.clipped === share(data.clipped) && before.crushed === share(data.crushed)
          ? before
          : { clipped: share(data.clipped), crushed: share(data.crushed) },
      )
    }
    const timer = setInterval(async () => {
      const source = picture.current
      if (waiting || !source?.width || document.hidden) return
      waiting = true
      try {
        const bitmap = await createImageBitmap(source)
        const message: ScopesAsked = {
          bitmap,
          scopes: scopes.map(({ scope, width, height }) => ({ scope, width, height })),
          mark: mark?.mark ?? null,
        }
        worker.postMessage(message, [bitmap])
      } catch {
        // The canvas has no picture now.
        waiting = false
      }
    }, EVERY_MS)
    return () => {
      clearInterval(timer)
      worker.terminate()
    }
  }, [picture, asked])
  return found
}
