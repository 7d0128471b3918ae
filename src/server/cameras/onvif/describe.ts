/** Asks an ONVIF device what it is and what it can do. */
import {
  GET_CAPABILITIES,
  GET_INFORMATION,
  GET_NODES,
  GET_PROFILES,
  getSnapshotUri,
  getStreamUri,
  type PtzNode,
  readCapabilities,
  readInformation,
  readNodes,
  readProfiles,
  readSnapshotUri,
  readStreamUri,
  type Services,
} from '../../../core/onvif/messages'
import { DeviceFault } from '../deviceFault'
import { DEVICE_PATH, type OnvifCalls } from './client'

export interface OnvifDevice {
  name: string
  services: Services
  /** The profile that is driven. */
  profile: string
  videoSource: string
  node: PtzNode | null
  /** Of its smallest profile; empty if it gives none. */
  streamUrl: string
  snapshotUrl: string
}

const orEmpty = (work: Promise<string>) =>
  work.catch((error: unknown) => {
    if (error instanceof DeviceFault && (error.kind === 'refused' || error.kind === 'not-supported'))
      return ''
    throw error
  })

/** @throws DeviceFault */
export async function describeOnvif(client: OnvifCalls): Promise<OnvifDevice> {
  await client.readClock()
  const name = readInformation(await client.call(DEVICE_PATH, GET_INFORMATION))
  const services = readCapabilities(await client.call(DEVICE_PATH, GET_CAPABILITIES))
  if (!services.media)
    throw new DeviceFault('nonsense', 'This ONVIF device has no picture service, so it is no camera.')
  const profiles = readProfiles(await client.call(services.media, GET_PROFILES))
  const driven = profiles.find((p) => p.hasPtz) ?? profiles[0]
  if (!driven)
    throw new DeviceFault('refused', 'The camera has no media profile. Make one in its own settings.')
  const small = [...profiles].sort((a, b) => a.width * a.height - b.width * b.height)[0]!
  const node = services.ptz ? readNodes(await client.call(services.ptz, GET_NODES)) : null
  return {
    name,
    services,
    profile: driven.token,
    videoSource: driven.videoSource,
    node,
    streamUrl: await orEmpty(client.call(services.media, getStreamUri(small.token)).then(readStreamUri)),
    snapshotUrl: await orEmpty(
      client.call(services.media, getSnapshotUri(small.token)).then(readSnapshotUri),
    ),
  }
}
