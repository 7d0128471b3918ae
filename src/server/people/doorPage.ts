/** The pages before the door: signing in, an invitation, the first owner. Plain, so that they work before anything is loaded. */
import { html } from 'hono/html'
import type { HtmlEscapedString } from 'hono/utils/html'

type Html = HtmlEscapedString | Promise<HtmlEscapedString>

interface Page {
  title: string
  text: string
  /** Where its form goes; null: there is none. */
  action: string | null
  fields?: Html
  button?: string
  message: string | null
  further?: Html
}

const page = ({ title, text, action, fields, button, message, further }: Page): Html => html`<!doctype html>
<html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width,initial-scale=1"><title>${title}, Steady Heron</title><link rel="icon" href="data:,"><style>
body{margin:0;min-height:100vh;display:grid;place-items:center;background:#0C1315;color:#EDE6D6;font:18px/1.5 system-ui,sans-serif}
main{width:min(22rem,88vw);padding:1rem 0}h1{font-size:1.4rem;margin:0 0 .3rem}p{color:#9DB0B2;margin:.2rem 0 1rem}[role=alert]{color:#D8A25E}
label{display:block;font-size:.9rem;color:#9DB0B2}
input,button{box-sizing:border-box;width:100%;font:inherit;padding:.8rem;border-radius:12px;margin:.2rem 0 .8rem}
input{background:#131D20;border:1px solid #2F4046;color:inherit}
button{background:#24414F;border:1px solid #86B9D0;color:inherit;font-weight:700}
input:focus-visible,button:focus-visible{outline:3px solid #86B9D0;outline-offset:2px}
</style></head><body><main><h1>${title}</h1><p>${text}</p>
${message ? html`<p role="alert">△ ${message}</p>` : ''}
${action ? html`<form method="post" action="${action}">${fields ?? ''}<button>${button}</button></form>` : ''}
${further ?? ''}</main></body></html>`

const NAME = (label: string, value = '') =>
  html`<label>${label}<input name="name" value="${value}" maxlength="40" autocomplete="username" required autofocus></label>`
const PASSWORD = (label: string, kind: 'current-password' | 'new-password', least = 1) =>
  html`<label>${label}<input name="password" type="password" minlength="${least}" maxlength="200" autocomplete="${kind}" required></label>`

export const signInPage = (base: string, message: string | null, name = ''): Html =>
  page({
    title: 'Steady Heron',
    text: 'Sign in to the desk. If you have an invitation, open its link or its square code instead.',
    action: `${base}/enter`,
    fields: html`${NAME('Name', name)}${PASSWORD('Password', 'current-password')}`,
    button: 'Sign in',
    message,
    further: html`<button id="passkey" data-at="${base}" hidden>Use a passkey</button><p id="passkey-said" role="alert"></p><script src="${base}/enter.js" defer></script>`,
  })

export const joinPage = (path: string, invitation: string, message: string | null): Html =>
  page({
    title: 'You are invited',
    text: `${invitation}. The others at the desk see the name that you type.`,
    action: path,
    fields: NAME('Your name'),
    button: 'Come in',
    message,
  })

export const ownerPage = (path: string, least: number, message: string | null, name = ''): Html =>
  page({
    title: 'Become the owner',
    text: `The owner of this desk may do everything, and lets others in. Choose a name, and a password of at least ${least} characters.`,
    action: path,
    fields: html`${NAME('Name', name)}${PASSWORD('Password', 'new-password', least)}`,
    button: 'Set up the desk',
    message,
  })

export const closedPage = (message: string): Html =>
  page({ title: 'Steady Heron', text: '', action: null, message })
