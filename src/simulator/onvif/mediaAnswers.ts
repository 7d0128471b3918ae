/** What the media service of a stand-in answers: one source, one profile. */
import { escapeXml } from '../../core/onvif/soap'
import type { OnvifOptions } from './deviceAnswers'
import { ptzConfiguration } from './ptzAnswers'

export const PROFILE = 'barn'
export const VIDEO_SOURCE = 'eye'
const SIZE = { width: 480, height: 270, perSec: 25 }
const RESOLUTION = `<tt:Resolution><tt:Width>${SIZE.width}</tt:Width><tt:Height>${SIZE.height}</tt:Height></tt:Resolution>`

const source = `<tt:Name>Source</tt:Name><tt:UseCount>1</tt:UseCount><tt:SourceToken>${VIDEO_SOURCE}</tt:SourceToken><tt:Bounds x="0" y="0" width="${SIZE.width}" height="${SIZE.height}"/>`
const encoder = `<tt:Name>Encoder</tt:Name><tt:UseCount>1</tt:UseCount><tt:Encoding>H264</tt:Encoding>${RESOLUTION}<tt:Quality>5</tt:Quality><tt:RateControl><tt:FrameRateLimit>${SIZE.perSec}</tt:FrameRateLimit><tt:EncodingInterval>1</tt:EncodingInterval><tt:BitrateLimit>2000</tt:BitrateLimit></tt:RateControl><tt:H264><tt:GovLength>50</tt:GovLength><tt:H264Profile>Main</tt:H264Profile></tt:H264><tt:SessionTimeout>PT60S</tt:SessionTimeout>`
const profile = (element: string) =>
  `<trt:${element} token="${PROFILE}" fixed="true"><tt:Name>${PROFILE}</tt:Name><tt:VideoSourceConfiguration token="vs">${source}</tt:VideoSourceConfiguration><tt:VideoEncoderConfiguration token="ve">${encoder}</tt:VideoEncoderConfiguration>${ptzConfiguration('tt:PTZConfiguration')}</trt:${element}>`

const answer = (name: string, inside: string) => `<trt:${name}Response>${inside}</trt:${name}Response>`
const uri = (name: string, address: string) =>
  address === ''
    ? null
    : answer(
        name,
        `<trt:MediaUri><tt:Uri>${escapeXml(address)}</tt:Uri><tt:InvalidAfterConnect>false</tt:InvalidAfterConnect><tt:InvalidAfterReboot>false</tt:InvalidAfterReboot><tt:Timeout>PT0S</tt:Timeout></trt:MediaUri>`,
      )

/** Null if it is not asked of this service. */
export function mediaAnswer(name: string, options: OnvifOptions): string | null {
  switch (name) {
    case 'GetServiceCapabilities':
      return answer(
        name,
        '<trt:Capabilities SnapshotUri="true"><trt:ProfileCapabilities MaximumNumberOfProfiles="1"/><trt:StreamingCapabilities RTP_TCP="true" RTP_RTSP_TCP="true"/></trt:Capabilities>',
      )
    case 'GetProfiles':
      return answer(name, profile('Profiles'))
    case 'GetProfile':
      return answer(name, profile('Profile'))
    case 'GetVideoSources':
      return answer(
        name,
        `<trt:VideoSources token="${VIDEO_SOURCE}"><tt:Framerate>${SIZE.perSec}</tt:Framerate>${RESOLUTION}</trt:VideoSources>`,
      )
    case 'GetVideoSourceConfigurations':
      return answer(name, `<trt:Configurations token="vs">${source}</trt:Configurations>`)
    case 'GetVideoEncoderConfigurations':
      return answer(name, `<trt:Configurations token="ve">${encoder}</trt:Configurations>`)
    case 'GetStreamUri':
      return uri(name, options.streamUrl)
    case 'GetSnapshotUri':
      return uri(name, options.snapshotUrl)
    default:
      return null
  }
}
