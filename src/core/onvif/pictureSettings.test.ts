/** Picture settings of ONVIF against answers as devices write them, and requests letter by letter. */
import { readOptions, readValues, setSetting } from './pictureSettings'
import { parseEnvelope } from './soap'

const soap = (body: string) =>
  parseEnvelope(
    `<?xml version="1.0"?><SOAP-ENV:Envelope xmlns:SOAP-ENV="http://www.w3.org/2003/05/soap-envelope" xmlns:timg="http://www.onvif.org/ver20/imaging/wsdl" xmlns:tt="http://www.onvif.org/ver10/schema"><SOAP-ENV:Body>${body}</SOAP-ENV:Body></SOAP-ENV:Envelope>`,
  )
const span = (name: string, min: number, max: number) =>
  `<tt:${name}><tt:Min>${min}</tt:Min><tt:Max>${max}</tt:Max></tt:${name}>`

const OPTIONS = soap(
  `<timg:GetOptionsResponse><timg:ImagingOptions><tt:BacklightCompensation><tt:Mode>OFF</tt:Mode><tt:Mode>ON</tt:Mode></tt:BacklightCompensation>${span('Brightness', 0, 100)}${span('ColorSaturation', 0, 100)}<tt:Exposure><tt:Mode>AUTO</tt:Mode><tt:Mode>MANUAL</tt:Mode>${span('ExposureTime', 100, 40000)}${span('Gain', 0, 48)}</tt:Exposure><tt:IrCutFilterModes>ON</tt:IrCutFilterModes><tt:IrCutFilterModes>OFF</tt:IrCutFilterModes><tt:IrCutFilterModes>AUTO</tt:IrCutFilterModes><tt:WhiteBalance><tt:Mode>AUTO</tt:Mode><tt:Mode>MANUAL</tt:Mode>${span('YrGain', 0, 255)}${span('YbGain', 0, 255)}</tt:WhiteBalance></timg:ImagingOptions></timg:GetOptionsResponse>`,
)

test('what a device offers, with its own ranges; what it does not name is not there', () => {
  const specs = readOptions(OPTIONS)
  expect(specs.map(({ key }) => key)).toEqual([
    ...['exposureMode', 'whiteBalance', 'infrared', 'backlight', 'shutter', 'gain', 'redGain', 'blueGain'],
    ...['saturation', 'brightness'],
  ])
  const shutter = specs.find(({ key }) => key === 'shutter')!
  expect(shutter).toMatchObject({ kind: 'range', unit: 's', step: 0, min: 100, max: 40_000 })
  expect(shutter.needs).toEqual([{ key: 'exposureMode', values: ['MANUAL'] }])
  expect(specs.find(({ key }) => key === 'gain')).toMatchObject({ min: 0, max: 48, step: 0.5 })
})

test('ranges that make no sense, and one mode alone, offer nothing', () => {
  const odd = soap(
    `<timg:GetOptionsResponse><timg:ImagingOptions>${span('Brightness', 5, 5)}<tt:Contrast><tt:Min>x</tt:Min></tt:Contrast><tt:Exposure><tt:Mode>AUTO</tt:Mode></tt:Exposure></timg:ImagingOptions></timg:GetOptionsResponse>`,
  )
  expect(readOptions(odd)).toEqual([])
  expect(readOptions(soap('<timg:GetOptionsResponse/>'))).toEqual([])
})

test('what it is set to; what it leaves out is not known', () => {
  const values = readValues(
    soap(
      '<timg:GetImagingSettingsResponse><timg:ImagingSettings><tt:BacklightCompensation><tt:Mode>ON</tt:Mode></tt:BacklightCompensation><tt:Brightness>50.5</tt:Brightness><tt:Exposure><tt:Mode>MANUAL</tt:Mode><tt:ExposureTime>20000</tt:ExposureTime></tt:Exposure><tt:WhiteBalance><tt:Mode>AUTO</tt:Mode></tt:WhiteBalance></timg:ImagingSettings></timg:GetImagingSettingsResponse>',
    ),
  )
  expect(values).toEqual({
    ...{ backlight: true, brightness: 50.5, exposureMode: 'MANUAL', shutter: 20_000, whiteBalance: 'AUTO' },
  })
})

test.each([
  ['brightness', 30, '<tt:Brightness>30</tt:Brightness>'],
  ['exposureMode', 'AUTO', '<tt:Exposure><tt:Mode>AUTO</tt:Mode></tt:Exposure>'],
  [
    'shutter',
    10_000,
    '<tt:Exposure><tt:Mode>MANUAL</tt:Mode><tt:ExposureTime>10000</tt:ExposureTime></tt:Exposure>',
  ],
  ['redGain', 12, '<tt:WhiteBalance><tt:Mode>MANUAL</tt:Mode><tt:CrGain>12</tt:CrGain></tt:WhiteBalance>'],
  ['backlight', false, '<tt:BacklightCompensation><tt:Mode>OFF</tt:Mode></tt:BacklightCompensation>'],
  ['infrared', 'ON', '<tt:IrCutFilter>ON</tt:IrCutFilter>'],
])('%s is set as ONVIF writes it', (key, value, inner) => {
  expect(setSetting('eye<1>', key, value)).toBe(
    `<timg:SetImagingSettings><timg:VideoSourceToken>eye&#60;1&#62;</timg:VideoSourceToken><timg:ImagingSettings>${inner}</timg:ImagingSettings></timg:SetImagingSettings>`,
  )
  expect(setSetting('x', 'unheardOf', value)).toBeNull()
})
