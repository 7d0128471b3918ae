/** Searching for cameras, and what was found so far. */
import { useEffect, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import type { SingleConnection } from '../../core/cameras/kinds'
import type { Search, Ways } from '../../server/api'
import { cancelSearch, readSearch, readWays, startSearch } from '../api/client'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Toggle } from '../basics/Toggle'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'

interface FindSheetProps {
  onChoose(connection: SingleConnection, title: string): void
  onClose(): void
}

export function FindSheet({ onChoose, onClose }: FindSheetProps) {
  const ways = useSWR<Ways, Error>('ways', readWays)
  const [onvif, setOnvif] = useState(true)
  const [visca, setVisca] = useState(true)
  const [serial, setSerial] = useState(true)
  const [range, setRange] = useState<string | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [id, setId] = useState<string | null>(null)
  const search = useSWR<Search, Error>(id ? ['search', id] : null, () => readSearch(id!), {
    refreshInterval: (latest) => (latest && latest.state !== 'running' ? 0 : 250),
    dedupingInterval: 100,
  })
  useEffect(() => {
    // Whoever leaves the sheet does not want the network searched any longer.
    return () => {
      if (id) void cancelSearch(id).catch(() => {})
    }
  }, [id])
  const typed = range ?? ways.data?.subnets[0] ?? ''
  const running = search.data?.state === 'running'
  const start = async () => {
    setProblem(null)
    try {
      const started = await startSearch({ onvif, serial, range: visca ? typed : null })
      setId(started.id)
    } catch (error) {
      setProblem((error as Error).message)
    }
  }
  const found = search.data?.found ?? []
  const foot = running ? (
    <Key label="Stop searching" onPress={() => void cancelSearch(id!)} testID="stop-search" />
  ) : (
    <Key
      label={search.data ? 'Search again' : 'Search'}
      tone="filled"
      disabled={!onvif && !visca && !serial}
      onPress={() => void start()}
      testID="start-search"
    />
  )
  return (
    <Sheet title="Find cameras" onClose={onClose} foot={foot} testID="find-sheet">
      <View style={styles.row}>
        <Toggle label="ONVIF" value={onvif} onChange={setOnvif} testID="find-onvif" />
        <Toggle label="VISCA on the network" value={visca} onChange={setVisca} testID="find-visca" />
        <Toggle label="Serial lines" value={serial} onChange={setSerial} testID="find-serial" />
      </View>
      {visca ? (
        <Field
          label="Addresses to search"
          value={typed}
          placeholder="192.168.1.0/24"
          onChangeText={setRange}
          problem={problem}
          hint="As 192.168.1.0/24, or as 192.168.1.20 - 192.168.1.60"
          testID="find-range"
        />
      ) : null}
      {search.data ? (
        <View style={styles.progress} accessibilityRole="progressbar" testID="search-progress">
          <View style={[styles.bar, { width: `${Math.round(search.data.progress * 100)}%` }]} />
        </View>
      ) : null}
      {search.data ? (
        <Words size={14} tone="mist" testID="search-state">
          {running
            ? `Searching… ${found.length} found so far`
            : search.data.state === 'cancelled'
              ? `Stopped. ${found.length} found.`
              : found.length === 0
                ? 'Nothing answered. Check that the cameras are on and in this network, and the addresses that were searched.'
                : `${found.length} found.`}
        </Words>
      ) : null}
      {found.map((c) => (
        <View key={c.address} style={styles.found} testID="found">
          <View style={styles.words}>
            <Words size={15} weight="semiBold">
              {c.title}
            </Words>
            <Words size={13} tone="mist">
              {c.address}
            </Words>
            {c.remarks.map((remark) => (
              <Words key={remark} size={13} tone="clay">
                {remark}
              </Words>
            ))}
          </View>
          {c.known ? (
            <Words size={13} tone="mist">{`is ${c.known}`}</Words>
          ) : (
            <Key
              label={c.needsLogin ? 'Add, with login' : 'Add'}
              tone="filled"
              onPress={() => onChoose(c.connection, /^VISCA/.test(c.title) ? '' : c.title)}
              testID={`choose-${c.connection.kind}`}
            />
          )}
        </View>
      ))}
    </Sheet>
  )
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
  progress: { height: 6, borderRadius: 3, backgroundColor: TONES.ink, overflow: 'hidden' },
  bar: { height: 6, backgroundColor: TONES.heron },
  found: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    minHeight: 58,
    paddingHorizontal: 12,
    paddingVertical: 6,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.ink,
  },
  words: { flex: 1 },
})
