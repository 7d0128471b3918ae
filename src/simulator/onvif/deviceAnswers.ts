/** What the device service of a stand-in answers, by the name of the request. */
import { escapeXml } from '../../core/onvif/soap'
import { ALL_SERVICES, SERVICES, type Service } from './services'

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

const VERSION = { major: 2, minor: 60 }

function systemTime(now: Date): string {
  const time = `<tt:Time><tt:Hour>${now.getUTCHours()}</tt:Hour><tt:Minute>${now.getUTCMinutes()}</tt:Minute><tt:Second>${now.getUTCSeconds()}</tt:Second></tt:Time>`
  const date = `<tt:Date><tt:Year>${now.getUTCFullYear()}</tt:Year><tt:Month>${now.getUTCMonth() + 1}</tt:Month><tt:Day>${now.getUTCDate()}</tt:Day></tt:Date>`
  return `<tds:GetSystemDateAndTimeResponse><tds:SystemDateAndTime><tt:DateTimeType>Manual</tt:DateTimeType><tt:DaylightSavings>false</tt:DaylightSavings><tt:UTCDateTime>${time}${date}</tt:UTCDateTime></tds:SystemDateAndTime></tds:GetSystemDateAndTimeResponse>`
}

const answer = (name: string, inside: string) => `<tds:${name}Response>${inside}</tds:${name}Response>`

/** Null if it is not asked of this service. */
export function deviceAnswer(name: string, options: OnvifOptions, now: Date): string | null {
  const at = (service: Service) => `http://${options.host}:${options.port}${SERVICES[service].path}`
  const scope = (path: string) =>
    `<tds:Scopes><tt:ScopeDef>Fixed</tt:ScopeDef><tt:ScopeItem>onvif://www.onvif.org/${path}</tt:ScopeItem></tds:Scopes>`
  switch (name) {
    case 'GetSystemDateAndTime':
      return systemTime(now)
    case 'GetDeviceInformation':
      return answer(
        name,
        `<tds:Manufacturer>Osier</tds:Manufacturer><tds:Model>${escapeXml(options.name)}</tds:Model><tds:FirmwareVersion>1.0</tds:FirmwareVersion><tds:SerialNumber>0001</tds:SerialNumber><tds:HardwareId>stand-in</tds:HardwareId>`,
      )
    case 'GetCapabilities': {
      const device = `<tt:Device><tt:XAddr>${at('device')}</tt:XAddr><tt:System><tt:DiscoveryResolve>false</tt:DiscoveryResolve><tt:DiscoveryBye>false</tt:DiscoveryBye><tt:RemoteDiscovery>false</tt:RemoteDiscovery><tt:SystemBackup>false</tt:SystemBackup><tt:SystemLogging>false</tt:SystemLogging><tt:FirmwareUpgrade>false</tt:FirmwareUpgrade><tt:SupportedVersions><tt:Major>${VERSION.major}</tt:Major><tt:Minor>${VERSION.minor}</tt:Minor></tt:SupportedVersions></tt:System></tt:Device>`
      const media = `<tt:Media><tt:XAddr>${at('media')}</tt:XAddr><tt:StreamingCapabilities><tt:RTPMulticast>false</tt:RTPMulticast><tt:RTP_TCP>true</tt:RTP_TCP><tt:RTP_RTSP_TCP>true</tt:RTP_RTSP_TCP></tt:StreamingCapabilities></tt:Media>`
      return answer(
        name,
        `<tds:Capabilities>${device}<tt:Imaging><tt:XAddr>${at('imaging')}</tt:XAddr></tt:Imaging>${media}<tt:PTZ><tt:XAddr>${at('ptz')}</tt:XAddr></tt:PTZ></tds:Capabilities>`,
      )
    }
    case 'GetServices':
      return answer(
        name,
        ALL_SERVICES.map(
          (service) =>
            `<tds:Service><tds:Namespace>${SERVICES[service].namespace}</tds:Namespace><tds:XAddr>${at(service)}</tds:XAddr><tds:Version><tt:Major>${VERSION.major}</tt:Major><tt:Minor>${VERSION.minor}</tt:Minor></tds:Version></tds:Service>`,
        ).join(''),
      )
    case 'GetServiceCapabilities':
      return answer(
        name,
        '<tds:Capabilities><tds:Network/><tds:Security UsernameToken="true" HttpDigest="false"/><tds:System DiscoveryResolve="false" DiscoveryBye="false"/></tds:Capabilities>',
      )
    case 'GetScopes':
      return answer(name, scope('type/ptz') + scope(`name/${encodeURIComponent(options.name)}`))
    case 'GetHostname':
      return answer(
        name,
        '<tds:HostnameInformation><tt:FromDHCP>false</tt:FromDHCP><tt:Name>stand-in</tt:Name></tds:HostnameInformation>',
      )
    case 'GetNetworkInterfaces':
      return answer(
        name,
        `<tds:NetworkInterfaces token="eth0"><tt:Enabled>true</tt:Enabled><tt:IPv4><tt:Enabled>true</tt:Enabled><tt:Config><tt:Manual><tt:Address>${options.host}</tt:Address><tt:PrefixLength>8</tt:PrefixLength></tt:Manual><tt:DHCP>false</tt:DHCP></tt:Config></tt:IPv4></tds:NetworkInterfaces>`,
      )
    default:
      return null
  }
}
