/** Offers to sign in by a passkey, where the browser can: that needs a secure connection, by a name. */
const key = document.getElementById('passkey')
const said = document.getElementById('passkey-said')
// A passkey belongs to a name, not to a number.
const named = !/^[\d.]+$|^\[/.test(location.hostname)
const able =
  named &&
  window.isSecureContext &&
  typeof PublicKeyCredential === 'function' &&
  typeof PublicKeyCredential.parseRequestOptionsFromJSON === 'function'

async function ask(path, body) {
  const answer = await fetch(`${key.dataset.at}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  const said = await answer.json().catch(() => ({}))
  if (!answer.ok) throw new Error(said.error ?? 'The desk does not answer. Try again.')
  return said
}

async function enter() {
  said.textContent = ''
  try {
    const options = PublicKeyCredential.parseRequestOptionsFromJSON(await ask('/enter/passkey/options', {}))
    const credential = await navigator.credentials.get({ publicKey: options })
    await ask('/enter/passkey', credential.toJSON())
    location.assign(`${key.dataset.at}/`)
  } catch (error) {
    // Whoever closes the browser's question knows that.
    if (error.name !== 'NotAllowedError') said.textContent = `△ ${error.message}`
  }
}

if (key && able) {
  key.hidden = false
  key.addEventListener('click', enter)
}
