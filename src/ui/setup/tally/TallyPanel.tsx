/** Where on air and preview come from, and whose lamps show it. */
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import useSWR from 'swr'
import type { TallySettings, TallySource } from '../../../core/tally/sources'
import type { DeskView, TallyView } from '../../../server/api'
import { readTally, setTally } from '../../api/client'
import { Key } from '../../basics/Key'
import { Toggle } from '../../basics/Toggle'
import { told } from '../../basics/told'
import { Words } from '../../basics/Words'
import { ListCard } from '../ListCard'
import { SourceSheet } from './SourceSheet'
import { SwitcherSheet } from './SwitcherSheet'
import { KIND_WORDS, newSource, placeOf } from './sourceDraft'

/** Often enough to learn an address by what goes on air. */
const EVERY_MS = 400

function heardWords(source: TallySource, heard: TallyView['sources'][number] | undefined): string {
  if (!source.enabled) return 'not listened to'
  if (heard?.trouble) return heard.trouble
  if (!heard?.lastHeardMs) return 'nothing heard yet'
  const ago = Math.max(0, (Date.now() - heard.lastHeardMs) / 1000)
  const when = ago < 3 ? 'heard just now' : `last heard ${Math.round(ago)} s ago`
  return heard.silent ? `silent, ${when}` : when
}

export function TallyPanel({ desk }: { desk: DeskView }) {
  const { tally, cameras } = desk
  const { data } = useSWR<TallyView>('tally', readTally, { refreshInterval: EVERY_MS })
  const [describing, setDescribing] = useState(false)
  const [edited, setEdited] = useState<TallySource | null>(null)
  const put = async (change: Partial<TallySettings>) =>
    (await told(() => setTally({ ...tally, ...change }))) !== null
  const heardOf = (id: string) => data?.sources.find((source) => source.id === id)
  const others = (id: string) => tally.sources.filter((source) => source.id !== id)
  const save = (source: TallySource) => {
    const isNew = !tally.sources.some(({ id }) => id === source.id)
    const sources = isNew
      ? [...tally.sources, source]
      : tally.sources.map((one) => (one.id === source.id ? source : one))
    return put({ sources })
  }
  return (
    <View style={styles.panel}>
      <Words tone="mist">
        The switcher tells here which camera is on air. A source that falls silent makes its cameras unknown,
        and they are treated as on air.
      </Words>
      {tally.sources.map((source) => (
        <ListCard
          key={source.id}
          name={source.name}
          about={`${KIND_WORDS[source.kind].about}, ${placeOf(source)} · ${heardWords(source, heardOf(source.id))}`}
          open={false}
          testID={`tally-source-${source.id}`}
        >
          <Key label="Change" onPress={() => setEdited(source)} testID={`tally-edit-${source.id}`} />
        </ListCard>
      ))}
      <View style={styles.keys}>
        <Key
          label="Add a source"
          onPress={() => setEdited(newSource(tally.sources.map(({ id }) => id)))}
          testID="tally-add"
        />
      </View>
      <Toggle
        label="Set on air by hand, on the Desk"
        value={tally.byHand}
        onChange={(byHand) => void put({ byHand })}
        testID="tally-by-hand"
      />
      <Words size={13} tone="mist">
        For shows without a switcher, or beside one. Programs set it by POST /api/tally/number.
      </Words>
      <ListCard
        name="Switcher"
        about={
          tally.switcher.enabled
            ? 'The Desk puts cameras on preview, cuts and fades.'
            : 'Not described: the Desk cannot cut.'
        }
        open={false}
        testID="switcher"
      >
        <Key label="Change" onPress={() => setDescribing(true)} testID="switcher-edit" />
      </ListCard>
      <Words size={16} weight="bold" style={styles.title}>
        The cameras’ own lamps
      </Words>
      {cameras.map(({ id, number, name }) => (
        <Toggle
          key={id}
          label={`${number} ${name} shows its lamp`}
          value={!tally.lampsOff.includes(id)}
          onChange={(lit) =>
            void put({ lampsOff: lit ? tally.lampsOff.filter((off) => off !== id) : [...tally.lampsOff, id] })
          }
          testID={`tally-lamp-${number}`}
        />
      ))}
      {describing ? (
        <SwitcherSheet
          switcher={tally.switcher}
          cameras={cameras}
          onSave={(switcher) => put({ switcher })}
          onClose={() => setDescribing(false)}
        />
      ) : null}
      {edited ? (
        <SourceSheet
          key={edited.id}
          source={edited}
          cameras={cameras}
          heard={heardOf(edited.id) ?? null}
          onSave={save}
          onDelete={
            tally.sources.some(({ id }) => id === edited.id)
              ? () => {
                  setEdited(null)
                  void put({ sources: others(edited.id) })
                }
              : null
          }
          onClose={() => setEdited(null)}
        />
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  title: { marginTop: 12 },
})
