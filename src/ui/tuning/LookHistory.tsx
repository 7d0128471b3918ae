/** What a look was before, to go back to. */
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import * as v from 'valibot'
import { type Part, SHOW_PARTS } from '../../core/cues/show'
import type { Before } from '../../server/api'
import { partsBefore } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { Words } from '../basics/Words'
import { change } from '../cues/edit'
import { dayAndTime } from '../people/times'

const readable = ({ data }: Before) => {
  const parsed = v.safeParse(SHOW_PARTS.look.schema, data)
  return parsed.success ? parsed.output : null
}

export function LookHistory({ look }: { look: Part<'look'> }) {
  const { data } = useSWR<Before[], Error>(['before', look.id, look.version], () =>
    partsBefore('look', look.id),
  )
  if (!data || data.length === 0) return null
  const back = async (before: Before) => {
    const kept = readable(before)
    if (kept && (await change('look', look, kept))) note(`“${kept.name}” is as it was.`)
  }
  return (
    <View style={styles.all}>
      <Words size={15} weight="semiBold">
        Kept before
      </Words>
      {data.map((before) => {
        const kept = readable(before)
        return kept ? (
          <View key={before.version} style={styles.row} testID={`look-before-${before.version}`}>
            {kept.picture ? (
              <img src={kept.picture} alt="" width={64} height={36} style={{ borderRadius: 4 }} />
            ) : null}
            <Words size={13} tone="mist" style={styles.words}>
              {kept.name}, until {dayAndTime(before.replacedAt)}
            </Words>
            <Key
              label="Use this"
              description={`Use ${kept.name} as it was before version ${before.version + 1}`}
              onPress={() => void back(before)}
              testID={`use-look-before-${before.version}`}
            />
          </View>
        ) : null
      })}
    </View>
  )
}

const styles = StyleSheet.create({
  all: { gap: 6 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  words: { flex: 1 },
})
