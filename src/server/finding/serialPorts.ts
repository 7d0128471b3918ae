/** The serial ports of this computer, by names that can be read. */
import { realpath } from 'node:fs/promises'
import { SerialPort } from 'serialport'

export interface PortName {
  path: string
  name: string
}

/** Ports that the system does not list, by path, separated by commas. */
const further = () =>
  (process.env.HERON_SERIAL_PORTS ?? '')
    .split(',')
    .map((path) => path.trim())
    .filter(Boolean)

const exists = (path: string) =>
  realpath(path).then(
    () => true,
    () => false,
  )

export async function serialPorts(): Promise<PortName[]> {
  const listed = await SerialPort.list().catch(() => [])
  const named = listed
    // Linux lists ports of its own that no hardware stands behind.
    .filter((port) => port.vendorId || port.pnpId || /USB|ACM|AMA|cu\.|COM\d/.test(port.path))
    .map((port) => {
      const words = [
        port.manufacturer,
        'friendlyName' in port ? String(port.friendlyName ?? '') : '',
        port.serialNumber,
      ]
      const name = words.filter(Boolean).join(' ')
      return { path: port.path, name: name ? `${name} (${port.path})` : port.path }
    })
  const extra = []
  for (const path of further()) if (await exists(path)) extra.push({ path, name: path })
  return [...named, ...extra]
}
