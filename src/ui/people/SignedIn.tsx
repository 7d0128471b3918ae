/** Who is signed in here, until when, and the way out. */
import { StyleSheet, View } from 'react-native'
import { ROLES } from '../../core/people/rights'
import { signOut } from '../api/people'
import { Key } from '../basics/Key'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { signInAgain } from '../live/signedOut'
import { RADIUS, TONES } from '../theme/tones'
import { useMe } from './me'
import { dayAndTime } from './times'

export function SignedIn() {
  const { data: me } = useMe()
  if (!me?.signedIn) return null
  const until = me.endsAt ? `, until ${dayAndTime(me.endsAt)}` : ''
  const leave = async () => {
    if (await told(signOut)) signInAgain()
  }
  return (
    <View style={styles.card}>
      <Words style={styles.words} testID="signed-in">
        You are {me.name}, {ROLES[me.role].label.toLowerCase()}
        {until}.
      </Words>
      <Key label="Sign out" onPress={() => void leave()} testID="sign-out" />
    </View>
  )
}

const styles = StyleSheet.create({
  card: {
    ...{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 10, padding: 10 },
    ...{ borderRadius: RADIUS.middle, borderWidth: 1, borderColor: TONES.line, backgroundColor: TONES.marsh },
  },
  words: { flex: 1, minWidth: 160 },
})
