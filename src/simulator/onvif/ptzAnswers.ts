/** What the PTZ service of a stand-in says of itself: its node, its configuration and the ranges of both. */
const SPACE = 'http://www.onvif.org/ver10/tptz'
const CONFIGURATION = 'ptz'
const NODE = 'node'
export const POSITION_SPACES = {
  panTilt: `${SPACE}/PanTiltSpaces/PositionGenericSpace`,
  zoom: `${SPACE}/ZoomSpaces/PositionGenericSpace`,
} as const
/** It stops by itself after this, s, if a move names no time. */
export const LONGEST_MOVE_S = 10

const range = (name: string, min: number, max: number) =>
  `<tt:${name}><tt:Min>${min}</tt:Min><tt:Max>${max}</tt:Max></tt:${name}>`
const plane = (element: string, uri: string, min: number, max: number) =>
  `<tt:${element}><tt:URI>${uri}</tt:URI>${range('XRange', min, max)}${range('YRange', min, max)}</tt:${element}>`
const line = (element: string, uri: string, min: number, max: number) =>
  `<tt:${element}><tt:URI>${uri}</tt:URI>${range('XRange', min, max)}</tt:${element}>`

const SPACES =
  plane('AbsolutePanTiltPositionSpace', POSITION_SPACES.panTilt, -1, 1) +
  line('AbsoluteZoomPositionSpace', POSITION_SPACES.zoom, 0, 1) +
  plane('RelativePanTiltTranslationSpace', `${SPACE}/PanTiltSpaces/TranslationGenericSpace`, -1, 1) +
  line('RelativeZoomTranslationSpace', `${SPACE}/ZoomSpaces/TranslationGenericSpace`, -1, 1) +
  plane('ContinuousPanTiltVelocitySpace', `${SPACE}/PanTiltSpaces/VelocityGenericSpace`, -1, 1) +
  line('ContinuousZoomVelocitySpace', `${SPACE}/ZoomSpaces/VelocityGenericSpace`, -1, 1) +
  line('PanTiltSpeedSpace', `${SPACE}/PanTiltSpaces/GenericSpeedSpace`, 0, 1) +
  line('ZoomSpeedSpace', `${SPACE}/ZoomSpaces/ZoomGenericSpeedSpace`, 0, 1)

/** @param element its name with the prefix of the service that tells it */
export const ptzConfiguration = (element: string) =>
  `<${element} token="${CONFIGURATION}"><tt:Name>Head</tt:Name><tt:UseCount>1</tt:UseCount><tt:NodeToken>${NODE}</tt:NodeToken><tt:DefaultAbsolutePantTiltPositionSpace>${POSITION_SPACES.panTilt}</tt:DefaultAbsolutePantTiltPositionSpace><tt:DefaultAbsoluteZoomPositionSpace>${POSITION_SPACES.zoom}</tt:DefaultAbsoluteZoomPositionSpace><tt:DefaultPTZTimeout>PT${LONGEST_MOVE_S}S</tt:DefaultPTZTimeout></${element}>`

const node = (memories: number) =>
  `<tptz:PTZNode token="${NODE}" FixedHomePosition="false"><tt:Name>Head</tt:Name><tt:SupportedPTZSpaces>${SPACES}</tt:SupportedPTZSpaces><tt:MaximumNumberOfPresets>${memories}</tt:MaximumNumberOfPresets><tt:HomeSupported>true</tt:HomeSupported></tptz:PTZNode>`

const answer = (name: string, inside: string) => `<tptz:${name}Response>${inside}</tptz:${name}Response>`

/** Null if it is not something that it says of itself. */
export function ptzAnswer(name: string, memories: number): string | null {
  switch (name) {
    case 'GetServiceCapabilities':
      return answer(name, '<tptz:Capabilities MoveStatus="true" StatusPosition="true"/>')
    case 'GetNodes':
    case 'GetNode':
      return answer(name, node(memories))
    case 'GetConfigurations':
    case 'GetConfiguration':
      return answer(name, ptzConfiguration('tptz:PTZConfiguration'))
    case 'GetConfigurationOptions':
      return answer(
        name,
        `<tptz:PTZConfigurationOptions><tt:Spaces>${SPACES}</tt:Spaces><tt:PTZTimeout><tt:Min>PT0.1S</tt:Min><tt:Max>PT${LONGEST_MOVE_S}S</tt:Max></tt:PTZTimeout></tptz:PTZConfigurationOptions>`,
      )
    default:
      return null
  }
}
