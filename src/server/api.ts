/** The HTTP API as one value, so that its type is known to the pages. */
import { Hono } from 'hono'
import { type DeskDeps, deskRoutes } from './routes/desk'
import { pictureRoutes } from './routes/pictures'
import { type PresetDeps, presetRoutes } from './routes/presets'

export function createApi(deps: DeskDeps & PresetDeps) {
  return new Hono()
    .route('/', deskRoutes(deps))
    .route('/presets', presetRoutes(deps))
    .route('/pictures', pictureRoutes(deps.db))
}

export type Api = ReturnType<typeof createApi>
export type { Stored } from './routes/answers'
export type { CameraView, DeskView, PresetView } from './store/catalogue'
