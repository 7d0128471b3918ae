/** The passkeys of whoever is signed in here: made, listed, removed. */
import { startRegistration } from '@simplewebauthn/browser'
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { addPasskey, passkeyOptions, readPasskeys, removePasskey } from '../api/people'
import { Key } from '../basics/Key'
import { fault, note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { ListCard } from '../setup/ListCard'
import { deviceWords } from './deviceWords'
import { useMe } from './me'
import { dayAndTime } from './times'

/** Passkeys belong to a name, not to a number. */
const isAddress = (host: string) => /^[\d.]+$/.test(host) || host.startsWith('[')

export function PasskeysPart() {
  const { data: me } = useMe()
  const { data, mutate } = useSWR('passkeys', readPasskeys)
  const [busy, setBusy] = useState(false)
  const { hostname } = globalThis.location
  const why = !globalThis.isSecureContext
    ? 'Browsers allow passkeys only over a secure connection: start the desk with HTTPS=1.'
    : isAddress(hostname)
      ? 'A passkey belongs to a name. Open the desk by the computer’s name instead of its number.'
      : null
  const add = async () => {
    setBusy(true)
    try {
      const response = await startRegistration({ optionsJSON: await passkeyOptions() })
      await addPasskey(deviceWords(navigator.userAgent), response)
      note('From now on this device signs you in by its own lock.')
    } catch (error) {
      const { name, message } = error as Error
      if (name === 'InvalidStateError') fault('This device has a passkey for you already.')
      else if (name !== 'NotAllowedError') fault(message)
    }
    setBusy(false)
    void mutate()
  }
  // Whoever came by an invitation has no account that a passkey could open.
  if (!me?.signedIn || me.endsAt !== null) return null
  return (
    <View style={styles.part}>
      <Words size={16} weight="bold">
        Your passkeys
      </Words>
      <Words size={13} tone="mist">
        {why ?? 'Sign in by the lock of this device, a finger or a face, instead of your password.'}
      </Words>
      {data?.map((one) => (
        <ListCard
          key={one.id}
          name={one.name}
          about={one.lastUsedAt ? `last used ${dayAndTime(one.lastUsedAt)}` : 'not used yet'}
          open={false}
          testID="passkey"
        >
          <Key
            label="Remove"
            onPress={() => void told(() => removePasskey(one.id)).then(() => mutate())}
            testID="remove-passkey"
          />
        </ListCard>
      ))}
      <Key
        label={busy ? 'Waiting for this device' : 'Add a passkey'}
        disabled={busy || why !== null}
        onPress={() => void add()}
        style={styles.key}
        testID="add-passkey"
      />
    </View>
  )
}

const styles = StyleSheet.create({
  part: { gap: 8 },
  key: { alignSelf: 'flex-start' },
})
