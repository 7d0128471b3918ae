/** Setup, People: who may come in, who is in, and how each of them is ended. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { EVERYWHERE, type Grant, OWNER, ROLES } from '../../core/people/rights'
import type { AccountView, InvitationView, PeopleView, SessionView } from '../../core/people/views'
import { LEAST_PASSWORD } from '../../core/people/views'
import type { DeskView, RemoteSettings } from '../../server/api'
import { readRemoteSettings, removeRemoteKey } from '../api/client'
import { addAccount, endInvitation, endSession, readPeople, removeInvitation } from '../api/people'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { DesksPart } from '../helpers/DesksPart'
import { ListCard } from '../setup/ListCard'
import { AccountSheet } from './AccountSheet'
import { deviceWords } from './deviceWords'
import { InviteSheet } from './InviteSheet'
import { LinkSheet } from './LinkSheet'
import { useMe } from './me'
import { dayAndTime } from './times'

const NEW: Grant = { role: 'operator', reach: EVERYWHERE, events: {} }
type Open =
  | { what: 'account'; account: AccountView | null }
  | { what: 'invite' }
  | { what: 'link'; invitation: string }
  | null

export function PeoplePanel({ desk }: { desk: DeskView }) {
  const { data, mutate } = useSWR<PeopleView>('people', readPeople, { refreshInterval: 3000 })
  const [open, setOpen] = useState<Open>(null)
  if (!data) return <Words tone="mist">Opening…</Words>
  const changed = () => void mutate()
  const accounts = data.accounts.filter(({ hasPassword }) => hasPassword)
  if (accounts.length === 0)
    return (
      <View style={styles.panel}>
        <FirstOwner changed={changed} />
        <DesksPart desk={desk} />
      </View>
    )
  const shown = open?.what === 'link' ? data.invitations.find(({ id }) => id === open.invitation) : null
  return (
    <View style={styles.panel}>
      <Title text="People" />
      {accounts.map((account) => (
        <ListCard
          key={account.id}
          name={account.name}
          about={grantWords(account.grant, desk)}
          open={false}
          testID={`person-${account.name}`}
        >
          <Key
            label="Change"
            onPress={() => setOpen({ what: 'account', account })}
            testID={`change-${account.name}`}
          />
        </ListCard>
      ))}
      <Key
        label="Add a person"
        onPress={() => setOpen({ what: 'account', account: null })}
        style={styles.key}
        testID="add-person"
      />
      <Title text="Invitations and keys" />
      <Words size={13} tone="mist">
        An invitation is a link that lets somebody in for as long as you say. Nothing has to be installed.
      </Words>
      {data.invitations.map((invitation) => (
        <InvitationCard
          key={invitation.id}
          {...{ invitation, desk, changed }}
          onShow={() => setOpen({ what: 'link', invitation: invitation.id })}
        />
      ))}
      <RemoteKeysList />
      <Key
        label="Invite somebody"
        tone="filled"
        onPress={() => setOpen({ what: 'invite' })}
        style={styles.key}
        testID="invite"
      />
      <DesksPart desk={desk} />
      <Title text="Signed in now" />
      {data.sessions.map((session) => (
        <SessionCard key={session.id} session={session} changed={changed} />
      ))}
      {open?.what === 'account' ? (
        <AccountSheet
          desk={desk}
          account={open.account}
          grant={open.account?.grant ?? NEW}
          onClose={() => {
            setOpen(null)
            changed()
          }}
        />
      ) : null}
      {open?.what === 'invite' ? (
        <InviteSheet
          desk={desk}
          onClose={() => setOpen(null)}
          onMade={async (invitation) => {
            await mutate()
            setOpen({ what: 'link', invitation })
          }}
        />
      ) : null}
      {shown ? (
        <LinkSheet invitation={shown} addresses={data.addresses} onClose={() => setOpen(null)} />
      ) : null}
    </View>
  )
}

const Title = ({ text }: { text: string }) => (
  <Words size={16} weight="bold" style={styles.title}>
    {text}
  </Words>
)

/** In a few words. */
export function grantWords({ role, reach, events }: Grant, desk: DeskView): string {
  if (role === 'owner') return 'Owner, may do everything'
  const { cameras, sections, cues, desk: at } = events[desk.event.id] ?? reach
  const named = desk.show.desks.find(({ id }) => id === at)
  const parts = [
    ROLES[role].label,
    at === null ? null : named ? `helper’s desk ${named.name}` : 'a helper’s desk that is gone',
    cameras === null ? null : `${cameras.length} ${cameras.length === 1 ? 'camera' : 'cameras'}`,
    sections === null ? null : `presets under ${sections.filter(Boolean).join(', ') || 'no heading'}`,
    cues === null ? null : `${cues.length} ${cues.length === 1 ? 'cue' : 'cues'}`,
  ]
  return parts.filter((part) => part !== null).join(', ')
}

function FirstOwner({ changed }: { changed(): void }) {
  const { mutate: readMeAgain } = useMe()
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const make = async () => {
    if (!(await told(() => addAccount({ name: name.trim(), password, grant: OWNER })))) return
    note('You are the owner now, and signed in here. Everybody else is asked who they are.')
    void readMeAgain()
    changed()
  }
  return (
    <View style={styles.panel}>
      <Words tone="mist">
        Nobody signs in yet: whoever sits at this computer may do everything. Become the owner to invite
        others and to decide what each of them may. From then on everybody signs in, here too.
      </Words>
      <View style={styles.row}>
        <Field label="Your name" value={name} maxLength={40} onChangeText={setName} testID="owner-name" />
        <Field
          label="Password"
          value={password}
          secureTextEntry
          maxLength={200}
          hint={`At least ${LEAST_PASSWORD} characters`}
          onChangeText={setPassword}
          testID="owner-password"
        />
      </View>
      <Key
        label="Become the owner"
        tone="filled"
        disabled={name.trim() === '' || password.length < LEAST_PASSWORD}
        onPress={() => void make()}
        style={styles.key}
        testID="become-owner"
      />
    </View>
  )
}

interface InvitationCardProps {
  invitation: InvitationView
  desk: DeskView
  changed(): void
  onShow(): void
}

function InvitationCard({ invitation, desk, changed, onShow }: InvitationCardProps) {
  const { id, name, grant, endsAt, uses, used, state, by, path } = invitation
  const about = [
    grantWords(grant, desk),
    state === 'open' ? (endsAt ? `until ${dayAndTime(endsAt)}` : 'until you end it') : state,
    uses === null ? `used ${used} times` : `used ${used} of ${uses}`,
    ...by.map((one) => `${one.name} came ${dayAndTime(one.at)}`),
  ].join(', ')
  const over = state === 'over' || state === 'ended'
  const act = async (what: (id: string) => Promise<unknown>, text: string) => {
    if (!(await told(() => what(id)))) return
    note(text)
    changed()
  }
  return (
    <ListCard name={name} about={about} open={false} testID={`invitation-${name}`}>
      {state === 'open' && path !== '' ? (
        <Key label="Show link" onPress={onShow} testID={`show-${name}`} />
      ) : null}
      {over ? (
        <Key
          label="Remove"
          onPress={() => void act(removeInvitation, `Removed “${name}”.`)}
          testID={`remove-${name}`}
        />
      ) : (
        <Key
          label="End now"
          onPress={() => void act(endInvitation, `Ended “${name}”. Whoever came by it is out.`)}
          testID={`end-${name}`}
        />
      )}
    </ListCard>
  )
}

function RemoteKeysList() {
  const { data, mutate } = useSWR<RemoteSettings>('remote', readRemoteSettings)
  return (data?.keys ?? []).map(({ id, name, rights, endsAt }) => (
    <ListCard
      key={id}
      name={`Key: ${name}`}
      about={`For a program: ${rights.join(', ')}${endsAt ? `, until ${dayAndTime(endsAt)}` : ''}`}
      open={false}
      testID={`people-key-${name}`}
    >
      <Key
        label="End now"
        onPress={() => void told(() => removeRemoteKey(id)).then(() => mutate())}
        testID={`people-end-key-${name}`}
      />
    </ListCard>
  ))
}

function SessionCard({ session, changed }: { session: SessionView; changed(): void }) {
  const { id, name, address, device, since, own } = session
  const end = async () => {
    if (await told(() => endSession(id))) changed()
  }
  return (
    <ListCard
      name={own ? `${name}, this browser` : name}
      about={`${deviceWords(device)} at ${address || 'this computer'}, since ${dayAndTime(since)}`}
      open={false}
      testID={`session-${name}`}
    >
      {own ? null : <Key label="Sign out" onPress={() => void end()} testID={`sign-out-${name}`} />}
    </ListCard>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  title: { marginTop: 12 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10, alignItems: 'flex-start' },
  key: { alignSelf: 'flex-start' },
})
