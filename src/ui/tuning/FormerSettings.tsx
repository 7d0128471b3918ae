/** What the cameras were set to before recalls and matches, to bring back: also after the server had to be restarted. */
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import { formerSettings, undoLook } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { dayAndTime } from '../people/times'

/** So many are shown; more would be a history, which the looks have. */
const SHOWN = 5

export function FormerSettings() {
  const { data, mutate } = useSWR('former-settings', formerSettings, { refreshInterval: 4000 })
  if (!data || data.length === 0) return null
  const bring = async (id: string) => {
    const done = await told(() => undoLook(id))
    if (done) note(done.problems.join(' ') || 'The cameras are set as they were before.')
    await mutate()
  }
  return (
    <View style={styles.all} testID="former-settings">
      <Words size={15} weight="semiBold">
        Set before
      </Words>
      {data.slice(0, SHOWN).map(({ id, what, cameras, atMs, cut }) => (
        <View key={id} style={styles.row} testID={`former-${id}`}>
          <View style={styles.words}>
            <Words size={14} numberOfLines={2}>
              {cameras.join(', ')}
            </Words>
            <Words size={13} tone={cut ? 'clay' : 'mist'} numberOfLines={2}>
              {`before ${what}, ${dayAndTime(new Date(atMs).toISOString())}${cut ? ': cut short' : ''}`}
            </Words>
          </View>
          <Key
            label="Bring back"
            description={`Set ${cameras.join(', ')} as before ${what}`}
            onPress={() => void bring(id)}
            testID={`bring-back-${id}`}
          />
        </View>
      ))}
    </View>
  )
}

const styles = StyleSheet.create({
  all: { gap: 6, marginTop: 10 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  words: { flex: 1, gap: 2 },
})
