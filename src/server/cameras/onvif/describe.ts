/** Asks an ONVIF device what it is and what it can do. */
import * as onvif from '../../../core/onvif/messages'
import { DeviceFault } from '../deviceFault'
import { DEVICE_PATH, type OnvifCalls } from './client'

export interface OnvifDevice {
  name: string
  services: onvif.Services
  /** The profile that is driven. */
  profile: string
  videoSource: string
  node: onvif.PtzNode | null
  /** Of its smallest profile; empty if it gives none. */
  streamUrl: string
  snapshotUrl: string
}

/** A refusal of one thing says nothing about the others; only a lost link, or a login, does. */
const orElse = <T>(work: Promise<T>, instead: T): Promise<T> =>
  work.catch((error: unknown) => {
    if (error instanceof DeviceFault && (error.kind === 'refused' || error.kind === 'not-supported'))
      return instead
    throw error
  })

const NO_SERVICES: onvif.Services = { media: '', media2: '', ptz: '', imaging: '' }

async function servicesOf(client: OnvifCalls): Promise<onvif.Services> {
  const older = await orElse(
    client.call(DEVICE_PATH, onvif.GET_CAPABILITIES).then(onvif.readCapabilities),
    NO_SERVICES,
  )
  if (older.media && older.ptz) return older
  const newer = await orElse(
    client.call(DEVICE_PATH, onvif.GET_SERVICES).then(onvif.readServices),
    NO_SERVICES,
  )
  return {
    media: older.media || newer.media,
    media2: newer.media2,
    ptz: older.ptz || newer.ptz,
    imaging: older.imaging || newer.imaging,
  }
}

/** The smallest first; those without an encoder, or of nothing by nothing, last. */
function bySize(profiles: readonly onvif.MediaProfile[]): onvif.MediaProfile[] {
  const size = ({ width, height }: onvif.MediaProfile) => width * height || Number.POSITIVE_INFINITY
  return [...profiles].sort((a, b) => (size(a) < size(b) ? -1 : size(a) > size(b) ? 1 : 0))
}

/** The one that the profile's configuration names, which need not be the first; else what that configuration tells. */
async function nodeOf(
  client: OnvifCalls,
  ptz: string,
  driven: onvif.MediaProfile,
): Promise<onvif.PtzNode | null> {
  const nodes = await orElse(client.call(ptz, onvif.GET_NODES).then(onvif.readNodes), [])
  const node = nodes.find((n) => n.token === driven.node) ?? nodes[0]
  if (node || driven.ptz === '') return node ?? null
  return orElse(client.call(ptz, onvif.getPtzOptions(driven.ptz)).then(onvif.readPtzOptions), null)
}

/** @throws DeviceFault */
export async function describeOnvif(client: OnvifCalls): Promise<OnvifDevice> {
  await client.readClock()
  const name = await orElse(client.call(DEVICE_PATH, onvif.GET_INFORMATION).then(onvif.readInformation), '')
  const services = await servicesOf(client)
  const media = services.media || services.media2
  if (!media)
    throw new DeviceFault('nonsense', 'This ONVIF device has no picture service, so it is no camera.')
  const older = services.media !== ''
  const profiles = onvif.readProfiles(
    await client.call(media, older ? onvif.GET_PROFILES : onvif.GET_PROFILES_2),
  )
  // Some devices refuse to be driven by a profile that has no picture.
  const driven = bySize(profiles).find((p) => p.node !== null) ?? profiles[0]
  if (!driven)
    throw new DeviceFault('refused', 'The camera has no media profile. Make one in its own settings.')
  const { token } = bySize(profiles)[0]!
  const uri = (body: string, read: (message: Awaited<ReturnType<OnvifCalls['call']>>) => string) =>
    orElse(client.call(media, body).then(read), '')
  return {
    name,
    services,
    profile: driven.token,
    videoSource: driven.videoSource,
    node: services.ptz ? await nodeOf(client, services.ptz, driven) : null,
    streamUrl: await uri(older ? onvif.getStreamUri(token) : onvif.getStreamUri2(token), onvif.readStreamUri),
    snapshotUrl: await uri(
      older ? onvif.getSnapshotUri(token) : onvif.getSnapshotUri2(token),
      onvif.readSnapshotUri,
    ),
  }
}
