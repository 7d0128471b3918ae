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

/** Of the smallest that has a size: some devices tell profiles without an encoder, or of nothing by nothing. */
function smallest(profiles: readonly onvif.MediaProfile[]): onvif.MediaProfile {
  const sized = profiles.filter((p) => p.width * p.height > 0)
  return [...(sized.length > 0 ? sized : profiles)].sort(
    (a, b) => a.width * a.height - b.width * b.height,
  )[0]!
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
  const driven = profiles.find((p) => p.node !== null) ?? profiles[0]
  if (!driven)
    throw new DeviceFault('refused', 'The camera has no media profile. Make one in its own settings.')
  const nodes = services.ptz
    ? await orElse(client.call(services.ptz, onvif.GET_NODES).then(onvif.readNodes), [])
    : []
  const { token } = smallest(profiles)
  const uri = (body: string, read: (message: Awaited<ReturnType<OnvifCalls['call']>>) => string) =>
    orElse(client.call(media, body).then(read), '')
  return {
    name,
    services,
    profile: driven.token,
    videoSource: driven.videoSource,
    // The one that the profile's configuration names, which need not be the first.
    node: nodes.find((n) => n.token === driven.node) ?? nodes[0] ?? null,
    streamUrl: await uri(older ? onvif.getStreamUri(token) : onvif.getStreamUri2(token), onvif.readStreamUri),
    snapshotUrl: await uri(
      older ? onvif.getSnapshotUri(token) : onvif.getSnapshotUri2(token),
      onvif.readSnapshotUri,
    ),
  }
}
