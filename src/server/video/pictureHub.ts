/** The feeds of all cameras. Sources that several cameras cut from are fetched once. */
import type { Picture, Rect, Stream } from '../../core/cameras/connection'
import type { Jobs } from '../jobs/jobs'
import type { HttpLogin } from '../links/http'
import { openCut } from './cut'
import { SharedFeed } from './feed'
import type { Feed } from './frame'
import { openMjpeg } from './mjpeg'
import { openRtsp } from './rtsp'
import { fetchJpeg, openSnapshots } from './snapshots'

/** ffmpeg needs to see a key frame first. */
/** Until a video gives its first picture seconds pass: who stores twice, or looks again, need not wait twice. */
const RTSP_TIMES = { stalledMs: 6000, firstMs: 12_000, freshWithinMs: 4000, lingerMs: 6000 }

const noPicture = (trouble: string): Feed => ({
  latest: null,
  trouble,
  watch: () => () => {},
  fresh: () => Promise.resolve(null),
  close: () => {},
})

export const NO_PICTURE = noPicture('This camera has no picture. Give it one in Setup.')

export function feedOfStream(stream: Stream, password: string): Feed {
  const openly = 'openly' in stream && stream.openly
  const login: HttpLogin = { user: stream.user, password, openly }
  switch (stream.kind) {
    case 'mjpeg':
      return new SharedFeed(openMjpeg(stream.url, login))
    case 'rtsp':
      return new SharedFeed(openRtsp(stream.url, login), RTSP_TIMES)
    case 'jpeg': {
      const slow = { stalledMs: Math.max(3000, 4000 / stream.perSec), freshWithinMs: 2500 }
      const feed = new SharedFeed(openSnapshots(stream.url, login, stream.perSec), slow)
      // One fetched now is newer than any on its way.
      feed.fresh = () => fetchJpeg(stream.url, login).catch(() => null)
      return feed
    }
  }
}

export class PictureHub {
  private readonly cameras = new Map<string, Feed>()
  private readonly shared = new Map<string, Feed>()

  constructor(private readonly jobs: Jobs) {}

  get(camera: string): Feed {
    return this.cameras.get(camera) ?? NO_PICTURE
  }

  add(camera: string, picture: Picture, password: string): void {
    try {
      this.cameras.set(camera, this.make(camera, picture, password))
    } catch {
      this.cameras.set(camera, noPicture('The address of its picture makes no sense. Correct it in Setup.'))
    }
  }

  remove(camera: string): void {
    this.cameras.get(camera)?.close()
    this.cameras.delete(camera)
  }

  close(): void {
    for (const feed of [...this.cameras.values(), ...this.shared.values()]) feed.close()
    this.cameras.clear()
    this.shared.clear()
  }

  private make(camera: string, picture: Picture, password: string): Feed {
    switch (picture.kind) {
      case 'none':
        return NO_PICTURE
      case 'cut-stream': {
        const key = JSON.stringify([picture.stream, password])
        const whole = this.shared.get(key) ?? feedOfStream(picture.stream, password)
        this.shared.set(key, whole)
        return this.part(whole, picture.rect)
      }
      case 'cut-camera': {
        // Looked up when somebody looks, so that the order of the cameras does not matter.
        const { camera: other, rect } = picture
        if (other === camera) return NO_PICTURE
        const whole: Feed = {
          latest: null,
          trouble: null,
          watch: (listener) => this.get(other).watch(listener),
          fresh: () => this.get(other).fresh(),
          close: () => {},
        }
        return this.part(whole, rect)
      }
      default:
        return feedOfStream(picture, password)
    }
  }

  private part(whole: Feed, rect: Rect): Feed {
    return new SharedFeed(openCut(whole, rect, this.jobs), RTSP_TIMES)
  }
}
