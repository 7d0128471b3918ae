/** Backups of venues: made by themselves, and put back after a look at what that would change. */
import { useState } from 'react'
import { StyleSheet } from 'react-native'
import useSWR from 'swr'
import { BACKUP_WHYS, type BackupView } from '../../core/formats/backups'
import { type Looked, lookAtBackup, makeBackup, readBackups } from '../api/client'
import { Key } from '../basics/Key'
import { note } from '../basics/notes'
import { told } from '../basics/told'
import { Words } from '../basics/Words'
import { dayAndTime } from '../people/times'
import { ImportSheet } from './ImportSheet'
import { ListCard } from './ListCard'

const SHOWN = 5
const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`

export function BackupsPart() {
  const { data, mutate } = useSWR<BackupView[], Error>('backups', readBackups)
  const [all, setAll] = useState(false)
  const [looked, setLooked] = useState<Looked | null>(null)
  const make = async () => {
    if (!(await told(makeBackup))) return
    note('Backed up.')
    void mutate()
  }
  const shown = all ? (data ?? []) : (data ?? []).slice(0, SHOWN)
  return (
    <>
      <Words size={16} weight="bold" style={styles.title}>
        Backups
      </Words>
      <Words size={13} tone="mist">
        The open venue is backed up every day, and before each import and removal. Passwords are not in it.
      </Words>
      {data?.length === 0 ? <Words tone="mist">There is none yet.</Words> : null}
      {shown.map(({ file, venue, at, why, bytes }) => (
        <ListCard
          key={file}
          name={`${venue}, ${dayAndTime(at)}`}
          about={`${BACKUP_WHYS[why]}, ${size(bytes)}`}
          open={false}
          testID={`backup-${why}`}
        >
          <Key
            label="Put back"
            description={`Looks first at what would change: ${venue}, ${dayAndTime(at)}`}
            onPress={() => void told(() => lookAtBackup(file)).then(setLooked)}
            testID={`put-back-${why}`}
          />
        </ListCard>
      ))}
      {(data?.length ?? 0) > SHOWN && !all ? (
        <Key label="Show all" onPress={() => setAll(true)} style={styles.key} />
      ) : null}
      <Key label="Back up now" onPress={() => void make()} style={styles.key} testID="backup-now" />
      {looked ? (
        <ImportSheet
          looked={looked}
          first="replace"
          onClose={() => {
            setLooked(null)
            void mutate()
          }}
        />
      ) : null}
    </>
  )
}

const styles = StyleSheet.create({ title: { marginTop: 12 }, key: { alignSelf: 'flex-start' } })
