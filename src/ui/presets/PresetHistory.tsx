/** All that was stored in a preset, with pictures, to go back to. */
import { Image, StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import type { PresetView, VersionView } from '../../server/api'
import { backToVersion, pictureUrl, readVersions } from '../api/client'
import { Key } from '../basics/Key'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'

export function PresetHistory({ preset }: { preset: PresetView }) {
  const versions = useSWR<VersionView[], Error>(['versions', preset.id, preset.version], () =>
    readVersions(preset.id),
  )
  // What is in the camera's memory alone cannot be gone back to.
  if (!preset.pose || (versions.data?.length ?? 0) < 2) return null
  return (
    <>
      <Words size={15} weight="bold">
        Stored before
      </Words>
      <View style={styles.row}>
        {versions.data!.map((x) => (
          <View key={x.version} style={styles.version} testID={`version-${x.version}`}>
            {x.pictureId ? (
              <Image source={{ uri: pictureUrl(x.pictureId) }} style={styles.picture} />
            ) : (
              <View style={styles.picture} />
            )}
            <Words size={12} tone="mist">
              {new Date(x.storedAt).toLocaleString([], { dateStyle: 'short', timeStyle: 'short' })}
            </Words>
            <Key
              label={x.version === preset.version ? 'now' : 'Use this'}
              disabled={x.version === preset.version}
              onPress={() => void told(() => backToVersion(preset.id, x.version))}
              testID={`use-version-${x.version}`}
            />
          </View>
        ))}
      </View>
    </>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: 8 },
  version: { width: 140, gap: 4 },
  picture: { width: 140, height: 79, borderRadius: RADIUS.small, backgroundColor: TONES.ink },
})
