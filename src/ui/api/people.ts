/** People, invitations, sessions and the log, as the server has them. */
import type {
  PublicKeyCredentialCreationOptionsJSON,
  RegistrationResponseJSON,
} from '@simplewebauthn/browser'
import type { Entry } from '../../core/people/journal'
import type { Grant } from '../../core/people/rights'
import type { NewInvitation } from '../../core/people/views'
import { client, json, read } from './client'

export const readMe = () => read(client.me.$get())
export const signOut = () => read(client.me.$delete())
export const readPasskeys = () => read(client.me.passkeys.$get())
export const passkeyOptions = () =>
  json<PublicKeyCredentialCreationOptionsJSON>('/me/passkeys/options', 'POST', {})
export const addPasskey = (name: string, response: RegistrationResponseJSON) =>
  json('/me/passkeys', 'POST', { name, response })
export const removePasskey = (id: string) => read(client.me.passkeys[':id'].$delete({ param: { id } }))
export const readPeople = () => read(client.people.$get())
export const addAccount = (account: { name: string; password: string; grant: Grant }) =>
  read(client.people.accounts.$post({ json: account }))
export const changeAccount = (
  id: string,
  change: { name?: string; password?: string | null; grant?: Grant },
) => read(client.people.accounts[':id'].$patch({ param: { id }, json: change }))
export const removeAccount = (id: string) => read(client.people.accounts[':id'].$delete({ param: { id } }))
export const invite = (invitation: NewInvitation) =>
  read(client.people.invitations.$post({ json: invitation }))
export const endInvitation = (id: string) =>
  read(client.people.invitations[':id'].end.$post({ param: { id } }))
export const removeInvitation = (id: string) =>
  read(client.people.invitations[':id'].$delete({ param: { id } }))
export const endSession = (id: string) => read(client.people.sessions[':id'].$delete({ param: { id } }))
export const readJournal = (wanted: Record<string, string>) =>
  json<{ days: number; entries: Entry[] }>(`/journal?${new URLSearchParams(wanted)}`, 'GET')
export const keepJournalDays = (days: number) => read(client.journal.days.$put({ json: { days } }))
