/** Cameras for the tests that answer requests: an ONVIF one from XML literals, and one by a command set. */
import type { CommandRequest, CommandSet } from '../../../core/commands/commandSet'
import { fillTemplate, type Values } from '../../../core/commands/template'
import { type Message, parseEnvelope } from '../../../core/onvif/soap'
import type { Wire } from '../commands/wire'
import { DeviceFault } from '../deviceFault'
import type { OnvifCalls } from '../onvif/client'
import type { HandClock } from './handClock'
import type { PlainHead } from './plainHead'
import type { Way } from './way'

const TIMEOUT_MS = 1500

/** A request over the way: answered after its delays, or given up like one that nobody answers. */
function asked<T>(clock: HandClock, way: Way, answer: () => T): Promise<T> {
  return new Promise((resolve, reject) => {
    const lost = () => reject(new DeviceFault('network', 'No answer.', 'ETIMEDOUT'))
    const cancel = clock.after(TIMEOUT_MS, lost)
    const there = way.resent()
    if (there === null) return
    clock.after(there, () => {
      let result: T
      try {
        result = answer()
      } catch (error) {
        cancel()
        return reject(error)
      }
      const back = way.resent()
      if (back === null) return
      clock.after(back, () => {
        cancel()
        resolve(result)
      })
    })
  })
}

/** What may be odd about an ONVIF device. */
export interface OnvifOdd {
  imaging?: 'broken' | 'no focus'
  /** It tells no positions, or refuses to tell its status. */
  status?: 'no positions' | 'refused' | 'in degrees'
  noAbsoluteMove?: boolean
  noTimeout?: boolean
  noZoomSpeed?: boolean
  /** Its first node belongs to something else. */
  secondNode?: boolean
  media2Only?: boolean
}

const SPHERE = 'http://x/SphericalPositionSpaceDegrees'
const RESPONSES: Record<string, string> = {
  GetDeviceInformation: '<Manufacturer>Plain</Manufacturer><Model>Head</Model>',
  GetCapabilities:
    '<Capabilities><Media><XAddr>/media</XAddr></Media><PTZ><XAddr>/ptz</XAddr></PTZ><Imaging><XAddr>/img</XAddr></Imaging></Capabilities>',
  GetProfiles:
    '<Profiles token="m"><VideoSourceConfiguration><SourceToken>v</SourceToken></VideoSourceConfiguration><PTZConfiguration token="p"><NodeToken>n</NodeToken></PTZConfiguration></Profiles>',
  GetNodes:
    '<PTZNode token="n"><SupportedPTZSpaces><AbsolutePanTiltPositionSpace><URI>http://x/PositionGenericSpace</URI><XRange><Min>-1</Min><Max>1</Max></XRange><YRange><Min>-1</Min><Max>1</Max></YRange></AbsolutePanTiltPositionSpace><AbsoluteZoomPositionSpace><XRange><Min>0</Min><Max>1</Max></XRange></AbsoluteZoomPositionSpace></SupportedPTZSpaces><MaximumNumberOfPresets>16</MaximumNumberOfPresets><HomeSupported>true</HomeSupported></PTZNode>',
  GetStreamUri: '<MediaUri><Uri>rtsp://x/</Uri></MediaUri>',
  GetSnapshotUri: '<MediaUri><Uri>http://x/</Uri></MediaUri>',
}

export class OnvifDevice implements OnvifCalls {
  readonly login = null
  private readonly presets = new Map<string, string>()

  constructor(
    private readonly head: PlainHead,
    /** The head's own ranges, degrees, as its profile has them. */
    private readonly ends: { pan: readonly [number, number]; tilt: readonly [number, number] },
    private readonly way: Way,
    private readonly clock: HandClock,
    private readonly odd: OnvifOdd = {},
  ) {}

  readClock = () => asked(this.clock, this.way, () => {})
  prepared = () => ({ url: '', method: 'POST' as const, body: '', contentType: '' })
  close() {}

  call(_service: string, body: string): Promise<Message> {
    return asked(this.clock, this.way, () => {
      const name = /<\w+:(\w+)/.exec(body)![1]!
      const inner = this.oddly(name, body) ?? RESPONSES[name] ?? this.obey(name, body)
      return parseEnvelope(
        `<e:Envelope xmlns:e="http://www.w3.org/2003/05/soap-envelope"><e:Body><${name}Response>${inner}</${name}Response></e:Body></e:Envelope>`,
      )
    })
  }

  /** Null where nothing is odd about this request. */
  private oddly(name: string, body: string): string | null {
    const { imaging, status, noAbsoluteMove, noTimeout, noZoomSpeed, secondNode, media2Only } = this.odd
    const refuse = (why: string) => {
      throw new DeviceFault('refused', why)
    }
    if (/Imaging/.test(name) && imaging === 'broken') return refuse('The imaging service is broken.')
    if (name === 'GetImagingSettings' && imaging === 'no focus') return '<ImagingSettings/>'
    if (name === 'GetStatus' && /ProfileToken/.test(body)) {
      if (status === 'refused') return refuse('No status.')
      if (status === 'no positions') return '<PTZStatus/>'
      const at = this.head.read()
      if (status === 'in degrees')
        return `<PTZStatus><Position><PanTilt x="${at.pan}" y="${at.tilt}" space="${SPHERE}"/><Zoom x="${at.zoom}"/></Position></PTZStatus>`
    }
    if (name === 'AbsoluteMove' && noAbsoluteMove) return refuse('No such move.')
    // Its own default is another space than the one that was listed first.
    if (name === 'AbsoluteMove' && status === 'in degrees' && !/PositionGenericSpace/.test(body))
      return refuse('Not in this space.')
    if (name === 'ContinuousMove' && noTimeout && /Timeout/.test(body)) return refuse('No timeout.')
    if (name === 'ContinuousMove' && noZoomSpeed && /Zoom/.test(body)) return refuse('No speed of zoom.')
    if (name === 'GetNodes') {
      let nodes = RESPONSES.GetNodes!
      if (noAbsoluteMove) nodes = nodes.replace(/<Absolute.*<.AbsoluteZoomPositionSpace>/, '')
      if (noZoomSpeed)
        nodes = nodes.replace('<SupportedPTZSpaces>', '<SupportedPTZSpaces><ContinuousPanTiltVelocitySpace/>')
      return secondNode ? `<PTZNode token="other"/>${nodes}` : nodes
    }
    if (!media2Only) return null
    if (name === 'GetCapabilities') return '<Capabilities/>'
    if (name === 'GetServices')
      return ['ver20/media', 'ver20/ptz', 'ver20/imaging']
        .map(
          (s) =>
            `<Service><Namespace>http://www.onvif.org/${s}/wsdl</Namespace><XAddr>/${s}</XAddr></Service>`,
        )
        .join('')
    if (name === 'GetProfiles')
      return '<Profiles token="m"><Configurations><VideoSource><SourceToken>v</SourceToken></VideoSource><PTZ><NodeToken>n</NodeToken></PTZ></Configurations></Profiles>'
    return name.endsWith('Uri') ? '<Uri>rtsp://x/</Uri>' : null
  }

  private obey(name: string, body: string): string {
    const { head } = this
    const pair = /PanTilt x="([-\d.]+)" y="([-\d.]+)"/.exec(body)
    const zoom = /Zoom x="([-\d.]+)"/.exec(body)?.[1]
    const text = (tag: string) => new RegExp(`<\\w+:${tag}>([^<]*)<`).exec(body)?.[1] ?? ''
    const share = (axis: 'pan' | 'tilt', deg: number) => {
      const [low, high] = this.ends[axis]
      return (2 * (deg - low)) / (high - low) - 1
    }
    const deg = (axis: 'pan' | 'tilt', x: number) => {
      const [low, high] = this.ends[axis]
      return low + ((x + 1) / 2) * (high - low)
    }
    switch (name) {
      case 'GetStatus': {
        const at = head.read()
        return `<PTZStatus><Position><PanTilt x="${share('pan', at.pan)}" y="${share('tilt', at.tilt)}"/><Zoom x="${at.zoom}"/></Position></PTZStatus>`
      }
      case 'ContinuousMove':
        head.drive({ pan: 60 * Number(pair![1]), tilt: 60 * Number(pair![2]), zoom: 0.5 * Number(zoom ?? 0) })
        return ''
      case 'Stop':
        head.drive({ pan: 0, tilt: 0, zoom: 0 })
        return ''
      case 'AbsoluteMove':
        if (pair) head.goTo({ pan: deg('pan', Number(pair[1])), tilt: deg('tilt', Number(pair[2])) })
        if (zoom !== undefined) head.goTo({ zoom: Number(zoom) })
        return ''
      case 'GotoHomePosition':
        head.goTo({ pan: 0, tilt: 0 })
        return ''
      case 'GetPresets':
        return [...this.presets]
          .map(([token, n]) => `<Preset token="${token}"><Name>${n}</Name></Preset>`)
          .join('')
      case 'SetPreset': {
        const token = text('PresetToken') || String(this.presets.size + 1)
        this.presets.set(token, text('PresetName'))
        head.keep(Number(token))
        return `<PresetToken>${token}</PresetToken>`
      }
      case 'GotoPreset':
        head.recall(Number(text('PresetToken')))
        return ''
      case 'GetImagingSettings':
        return `<ImagingSettings><Focus><AutoFocusMode>${head.auto ? 'AUTO' : 'MANUAL'}</AutoFocusMode></Focus></ImagingSettings>`
      case 'SetImagingSettings':
        head.auto = text('AutoFocusMode') === 'AUTO'
        return ''
      default:
        return ''
    }
  }
}

/** What the user wrote down of the plain head. */
export const PLAIN_SET = {
  format: 'steady-heron/command-set',
  version: 1,
  id: 'plain',
  name: 'Plain head',
  transport: 'http',
  port: 80,
  memories: 16,
  actions: {
    drive: { path: '/drive?p={panSpeed}&t={tiltSpeed}' },
    zoom: { path: '/zoom?z={zoomSpeed}' },
    goTo: { path: '/goto?p={pan}&t={tilt}' },
    zoomTo: { path: '/zoomto?z={zoom}' },
    home: { path: '/home' },
    powerOn: { path: '/power?on=1' },
    standby: { path: '/power?on=0' },
    autoFocusOn: { path: '/auto?on=1' },
    autoFocusOff: { path: '/auto?on=0' },
    memorySet: { path: '/keep?n={number}' },
    memoryRecall: { path: '/recall?n={number}' },
  },
  reads: [{ path: '/state', answer: 'p={pan} t={tilt} z={zoom} af={autoFocus} on={power}' }],
  ranges: {
    pan: { fromDeg: -170, toDeg: 170, from: -17000, to: 17000 },
    tilt: { fromDeg: -30, toDeg: 90, from: -3000, to: 9000 },
    zoom: { from: 0, to: 10000 },
  },
  speeds: {
    pan: { negative: -100, still: 0, positive: 100 },
    tilt: { negative: -100, still: 0, positive: 100 },
    zoom: { negative: -100, still: 0, positive: 100 },
  },
  words: { autoFocus: { on: 'yes', off: 'no' }, power: { on: 'yes', off: 'no' } },
}

export class CommandDevice implements Wire {
  constructor(
    readonly set: CommandSet,
    private readonly head: PlainHead,
    private readonly way: Way,
    private readonly clock: HandClock,
  ) {}

  close() {}

  send(request: CommandRequest, values: Values): Promise<string> {
    const url = new URL(fillTemplate(request.path ?? '/', values), 'http://x')
    return asked(this.clock, this.way, () => this.obey(url))
  }

  private obey({ pathname, searchParams }: URL): string {
    const { head } = this
    const n = (name: string) => Number(searchParams.get(name))
    const on = searchParams.get('on') === '1'
    if (pathname === '/drive') head.drive({ pan: 0.6 * n('p'), tilt: 0.6 * n('t') })
    if (pathname === '/zoom') head.drive({ zoom: 0.005 * n('z') })
    if (pathname === '/goto') head.goTo({ pan: n('p') / 100, tilt: n('t') / 100 })
    if (pathname === '/zoomto') head.goTo({ zoom: n('z') / 10000 })
    if (pathname === '/home') head.goTo({ pan: 0, tilt: 0 })
    if (pathname === '/auto') head.auto = on
    if (pathname === '/power') head.power = on
    if (pathname === '/keep') head.keep(n('n'))
    if (pathname === '/recall' && !head.recall(n('n')))
      throw new DeviceFault('refused', 'The camera has nothing there.')
    const at = head.read()
    const word = (is: boolean) => (is ? 'yes' : 'no')
    return `p=${Math.round(at.pan * 100)} t=${Math.round(at.tilt * 100)} z=${Math.round(at.zoom * 10000)} af=${word(head.auto)} on=${word(head.power)}`
  }
}
