/** The page that asks for the access code: plain, so that it works before anything is loaded. */
export function doorPage(message: string | null): string {
  const note = message ? `<p role="alert">${message}</p>` : ''
  return `<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width,initial-scale=1"><title>Steady Heron</title><style>
body{margin:0;min-height:100vh;display:grid;place-items:center;background:#0C1315;color:#EDE6D6;font:18px/1.5 system-ui,sans-serif}
form{width:min(20rem,86vw)}h1{font-size:1.4rem;margin:0 0 .3rem}p{color:#9DB0B2;margin:.2rem 0 1rem}[role=alert]{color:#D8A25E}
input,button{box-sizing:border-box;width:100%;font:inherit;padding:.8rem;border-radius:12px;margin-bottom:.8rem}
input{background:#131D20;border:1px solid #2F4046;color:inherit;letter-spacing:.2em;text-align:center;text-transform:uppercase}
button{background:#24414F;border:1px solid #86B9D0;color:inherit;font-weight:700}
</style></head><body><form method="post" action="/access"><h1>Steady Heron</h1>
<p>Type the access code that the computer at the desk printed at its start.</p>${note}
<input name="code" aria-label="Access code" autocomplete="off" autocapitalize="characters" autofocus>
<button>Open the desk</button></form></body></html>`
}
