/** The user's word that a password may go over the network as it is. */
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'

interface OpenPasswordProps {
  value: boolean
  onChange(value: boolean): void
  testID: string
}

export function OpenPassword({ value, onChange, testID }: OpenPasswordProps) {
  return (
    <>
      <Toggle label="Password in the open" value={value} onChange={onChange} testID={testID} />
      {value ? (
        <Words size={14} tone="clay">
          Where the device takes nothing else, its password is sent unencrypted: anybody on this network can
          read it.
        </Words>
      ) : null}
    </>
  )
}
