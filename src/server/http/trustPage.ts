/** How a phone or a computer comes to trust this desk's own certificate. */
import { X509Certificate } from 'node:crypto'
import { html } from 'hono/html'

const STEPS = [
  {
    system: 'iPhone or iPad',
    steps: [
      'Open this page in Safari and touch “Download the certificate”. Allow the download.',
      'In Settings, touch “Profile Downloaded”, then Install.',
      'In Settings, General, About, Certificate Trust Settings, switch it on.',
    ],
  },
  {
    system: 'Android',
    steps: [
      'Touch “Download the certificate”.',
      'In Settings, search for “CA certificate”, touch it, then “Install anyway”, and choose the file.',
    ],
  },
  {
    system: 'Windows',
    steps: [
      'Download the certificate and open it. Choose “Install Certificate”, then “Current User”.',
      'Place it in “Trusted Root Certification Authorities”.',
    ],
  },
  {
    system: 'Mac',
    steps: [
      'Download the certificate and open it: the Keychain takes it.',
      'Open it there, and under Trust choose “Always Trust”.',
    ],
  },
]

/** @param authority PEM */
export function trustPage(addresses: readonly string[], authority: string) {
  const fingerprint = new X509Certificate(authority).fingerprint256
  return html`<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width,initial-scale=1"><title>Trust this desk, Steady Heron</title><style>
body{margin:0;background:#0C1315;color:#EDE6D6;font:18px/1.5 system-ui,sans-serif}
main{width:min(34rem,88vw);margin:0 auto;padding:1.5rem 0 3rem}h1{font-size:1.4rem}h2{font-size:1.1rem;margin-bottom:.2rem}
p,li{color:#9DB0B2}a{color:#86B9D0}.key{display:inline-block;padding:.8rem 1.2rem;border-radius:12px;background:#24414F;border:1px solid #86B9D0;color:#EDE6D6;text-decoration:none;font-weight:700}
code{font-size:.8rem;overflow-wrap:anywhere}
</style></head><body><main><h1>Trust this desk</h1>
<p>Joysticks, MIDI and the home screen need a secure connection. This desk has made a certificate of its own: a device that trusts it opens the desk without a warning. Do it once on each device, on a network that you trust.</p>
<p><a class="key" href="/steady-heron.crt">Download the certificate</a></p>
${STEPS.map(
  ({ system, steps }) => html`<h2>${system}</h2><ol>${steps.map((step) => html`<li>${step}</li>`)}</ol>`,
)}
<h2>Then open the desk</h2>
<p>${addresses.map((address) => html`<a href="${address}">${address}</a><br>`)}</p>
<h2>To be sure that it is this desk’s</h2>
<p>Its fingerprint, which the start has printed too:<br><code>${fingerprint}</code></p>
</main></body></html>`
}
