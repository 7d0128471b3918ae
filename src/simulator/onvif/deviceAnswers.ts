/** What the device and media services of a stand-in answer, by the name of the request. */
import { escapeXml } from '../../core/onvif/soap'
import { PROFILE, VIDEO_SOURCE } from './actions'

export interface OnvifOptions {
  host: string
  port: number
  name: string
  user: string
  password: string
  /** Empty where it has none. */
  streamUrl: string
  snapshotUrl: string
}

function systemTime(now: Date): string {
  const time = `<tt:Time><tt:Hour>${now.getUTCHours()}</tt:Hour><tt:Minute>${now.getUTCMinutes()}</tt:Minute><tt:Second>${now.getUTCSeconds()}</tt:Second></tt:Time>`
  const date = `<tt:Date><tt:Year>${now.getUTCFullYear()}</tt:Year><tt:Month>${now.getUTCMonth() + 1}</tt:Month><tt:Day>${now.getUTCDate()}</tt:Day></tt:Date>`
  return `<tds:GetSystemDateAndTimeResponse><tds:SystemDateAndTime><tt:DateTimeType>Manual</tt:DateTimeType><tt:DaylightSavings>false</tt:DaylightSavings><tt:UTCDateTime>${time}${date}</tt:UTCDateTime></tds:SystemDateAndTime></tds:GetSystemDateAndTimeResponse>`
}

function profile(token: string, width: number, height: number): string {
  return `<trt:Profiles token="${token}" fixed="true"><tt:Name>${token}</tt:Name><tt:VideoSourceConfiguration token="vs"><tt:SourceToken>${VIDEO_SOURCE}</tt:SourceToken></tt:VideoSourceConfiguration><tt:VideoEncoderConfiguration token="ve"><tt:Encoding>H264</tt:Encoding><tt:Resolution><tt:Width>${width}</tt:Width><tt:Height>${height}</tt:Height></tt:Resolution></tt:VideoEncoderConfiguration><tt:PTZConfiguration token="ptz"><tt:NodeToken>node</tt:NodeToken></tt:PTZConfiguration></trt:Profiles>`
}

const uri = (name: string, address: string) =>
  `<trt:${name}Response><trt:MediaUri><tt:Uri>${escapeXml(address)}</tt:Uri><tt:InvalidAfterConnect>false</tt:InvalidAfterConnect></trt:MediaUri></trt:${name}Response>`

/** Null if the request is for another service. */
export function deviceAnswer(name: string, options: OnvifOptions, now: Date): string | null {
  const base = `http://${options.host}:${options.port}/onvif`
  switch (name) {
    case 'GetSystemDateAndTime':
      return systemTime(now)
    case 'GetDeviceInformation':
      return `<tds:GetDeviceInformationResponse><tds:Manufacturer>Osier</tds:Manufacturer><tds:Model>${escapeXml(options.name)}</tds:Model><tds:FirmwareVersion>1.0</tds:FirmwareVersion><tds:SerialNumber>0001</tds:SerialNumber><tds:HardwareId>stand-in</tds:HardwareId></tds:GetDeviceInformationResponse>`
    case 'GetCapabilities':
      return `<tds:GetCapabilitiesResponse><tds:Capabilities><tt:Imaging><tt:XAddr>${base}/imaging</tt:XAddr></tt:Imaging><tt:Media><tt:XAddr>${base}/media</tt:XAddr></tt:Media><tt:PTZ><tt:XAddr>${base}/ptz</tt:XAddr></tt:PTZ></tds:Capabilities></tds:GetCapabilitiesResponse>`
    case 'GetProfiles':
      return `<trt:GetProfilesResponse>${profile(PROFILE, 480, 270)}</trt:GetProfilesResponse>`
    case 'GetStreamUri':
      return options.streamUrl ? uri('GetStreamUri', options.streamUrl) : null
    case 'GetSnapshotUri':
      return options.snapshotUrl ? uri('GetSnapshotUri', options.snapshotUrl) : null
    default:
      return null
  }
}
