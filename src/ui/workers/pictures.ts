/** Receives, decodes and draws the live pictures, so that the page's own thread has the hand alone. */
import { Easels } from '../live/easels'
import type { FromPictures, ToPictures } from '../live/pictureMessages'

const tell = (message: FromPictures, transfer: Transferable[] = []) =>
  (self as unknown as Worker).postMessage(message, transfer)

const easels = new Easels({
  seen: (sighting) => tell({ t: 'seen', ...sighting }),
  trouble: (camera, text) => tell({ t: 'trouble', camera, text }),
  copy: (request, bitmap) => tell({ t: 'copy', request, bitmap }, [bitmap]),
})

self.onmessage = ({ data }: MessageEvent<ToPictures>) => {
  switch (data.t) {
    case 'canvas':
      return easels.addCanvas(data.easel, data.canvas)
    case 'noCanvas':
      return easels.removeCanvas(data.easel)
    case 'watch':
      return easels.watch(data.easel, data.camera, data.perSec)
    case 'unwatch':
      return easels.unwatch(data.easel)
    case 'copy':
      return easels.copy(data.request, data.camera, data.fromMs)
    case 'noCopy':
      return easels.forgetCopy(data.request)
    case 'away':
      return easels.setAway(data.is)
  }
}
