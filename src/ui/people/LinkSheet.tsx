/** The link of an invitation, and its square code. */

import { useState } from 'react'
import { StyleSheet, useWindowDimensions } from 'react-native'
import type { InvitationView } from '../../core/people/views'
import { Choice } from '../basics/Choice'
import { Key } from '../basics/Key'
import { fault, note } from '../basics/notes'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { BASE } from '../live/base'
import { TONES } from '../theme/tones'
import { SquareCode } from './SquareCode'

interface LinkSheetProps {
  invitation: InvitationView
  /** Where others reach the server; empty: only this computer does. */
  addresses: readonly string[]
  onClose(): void
}

const MOST_SIDE = 260

export function LinkSheet({ invitation, addresses, onClose }: LinkSheetProps) {
  const { width, height } = useWindowDimensions()
  const here = `${globalThis.location.origin}${BASE}`
  const all = addresses.length > 0 ? addresses : [here]
  // A page that was opened from elsewhere knows the way there.
  const own = all.includes(here) ? here : all[0]!
  const [base, setBase] = useState(own)
  const link = `${base}${invitation.path}`
  const copy = () =>
    navigator.clipboard?.writeText(link).then(
      () => note('Copied the link.'),
      () => fault('This browser does not let the page copy. Mark the link and copy it by hand.'),
    ) ?? fault('Browsers let a page copy only over a secure connection. Mark the link and copy it by hand.')
  return (
    <Sheet
      title={invitation.name}
      onClose={onClose}
      testID="link-sheet"
      foot={<Key label="Copy the link" tone="filled" onPress={() => void copy()} testID="copy-link" />}
    >
      {addresses.length === 0 ? (
        <Words tone="clay">
          △ Only this computer reaches the desk. Start it with HOST=0.0.0.0 so that phones can open the link.
        </Words>
      ) : null}
      <Words tone="mist">Let the phone look at this code, or send the link.</Words>
      <SquareCode
        text={link}
        side={Math.min(MOST_SIDE, width - 90, Math.max(140, height - 260))}
        label="Square code of the invitation"
      />
      {all.length > 1 ? (
        <Choice
          label="Reached at"
          options={all.map((value) => ({ value, label: value.replace(/^https?:\/\//, '') }))}
          value={base}
          onChange={(value) => setBase(String(value))}
        />
      ) : null}
      <Words selectable size={13} style={styles.link} testID="invitation-link">
        {link}
      </Words>
    </Sheet>
  )
}

const styles = StyleSheet.create({ link: { padding: 8, backgroundColor: TONES.ink } })
