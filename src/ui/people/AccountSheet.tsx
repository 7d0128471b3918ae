/** Somebody who signs in by name and password: added, changed, removed. */
import { useState } from 'react'
import type { Grant } from '../../core/people/rights'
import { type AccountView, LEAST_PASSWORD } from '../../core/people/views'
import type { DeskView } from '../../server/api'
import { addAccount, changeAccount, removeAccount } from '../api/people'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { told } from '../basics/told'
import { GrantFields } from './GrantFields'

interface AccountSheetProps {
  desk: DeskView
  /** Null: a new one. */
  account: AccountView | null
  grant: Grant
  onClose(): void
}

export function AccountSheet({ desk, account, grant: given, onClose }: AccountSheetProps) {
  const [name, setName] = useState(account?.name ?? '')
  const [password, setPassword] = useState('')
  const [grant, setGrant] = useState(given)
  const long = password.length >= LEAST_PASSWORD
  const ready = name.trim() !== '' && (account ? password === '' || long : long)
  const keep = async () => {
    const called = name.trim()
    const done = await told(() =>
      account
        ? changeAccount(account.id, { name: called, grant, ...(password === '' ? {} : { password }) })
        : addAccount({ name: called, password, grant }),
    )
    if (!done) return
    note(account ? `Changed ${called}.` : `${called} can sign in now.`)
    onClose()
  }
  const remove = async () => {
    if (!account || !(await told(() => removeAccount(account.id)))) return
    note(`Removed ${account.name}. Where they were signed in, they are out.`)
    onClose()
  }
  return (
    <Sheet
      title={account ? account.name : 'Add a person'}
      onClose={onClose}
      testID="account-sheet"
      foot={
        <>
          <Key
            label="Keep"
            tone="filled"
            disabled={!ready}
            onPress={() => void keep()}
            testID="keep-account"
          />
          {account ? <Key label="Remove" onPress={() => void remove()} testID="remove-account" /> : null}
        </>
      }
    >
      <Field label="Name" value={name} maxLength={40} onChangeText={setName} testID="account-name" />
      <Field
        label={account ? 'New password' : 'Password'}
        value={password}
        secureTextEntry
        maxLength={200}
        hint={
          account
            ? 'Leave it empty to keep the former. A new one signs them out everywhere.'
            : `At least ${LEAST_PASSWORD} characters`
        }
        onChangeText={setPassword}
        testID="account-password"
      />
      <GrantFields desk={desk} grant={grant} onChange={setGrant} />
    </Sheet>
  )
}
