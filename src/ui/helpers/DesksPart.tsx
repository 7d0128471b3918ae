/** The helpers' desks of the event: made, changed, and looked at as their helpers see them. */
import { router } from 'expo-router'
import { useState } from 'react'
import { StyleSheet } from 'react-native'
import type { Part } from '../../core/cues/show'
import type { DeskView } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { ListCard } from '../setup/ListCard'
import { DeskSheet } from './DeskSheet'

const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`

export function DesksPart({ desk }: { desk: DeskView }) {
  const [open, setOpen] = useState<Part<'desk'> | 'new' | null>(null)
  const cameraOf = (id: string | null) => desk.cameras.find((camera) => camera.id === id)
  return (
    <>
      <Words size={16} weight="bold" style={styles.title}>
        Helpers’ desks
      </Words>
      <Words size={13} tone="mist">
        A page with the presets and cues that you choose and nothing else, for somebody who has never sat
        here. Invite them to it.
      </Words>
      {desk.show.desks.map((one) => {
        const pad = cameraOf(one.pad)
        const about = [
          counted(one.presets.length, 'preset'),
          one.cues.length > 0 ? counted(one.cues.length, 'cue') : null,
          pad ? `pad of ${pad.name}` : null,
        ]
        return (
          <ListCard
            key={one.id}
            name={one.name}
            about={about.filter(Boolean).join(', ')}
            open={false}
            testID={`desk-${one.name}`}
          >
            <Key
              label="See it"
              onPress={() => router.push(`/helper?desk=${one.id}`)}
              testID={`see-${one.name}`}
            />
            <Key label="Change" onPress={() => setOpen(one)} testID={`change-desk-${one.name}`} />
          </ListCard>
        )
      })}
      <ListCard
        name="All presets"
        about="every camera’s presets, and nothing else"
        open={false}
        testID="desk-all"
      >
        <Key label="See it" onPress={() => router.push('/presets')} testID="see-all-presets" />
      </ListCard>
      <Key
        label="Make a helper’s desk"
        onPress={() => setOpen('new')}
        style={styles.key}
        testID="make-desk"
      />
      {open ? (
        <DeskSheet desk={desk} helpers={open === 'new' ? null : open} onClose={() => setOpen(null)} />
      ) : null}
    </>
  )
}

const styles = StyleSheet.create({
  title: { marginTop: 12 },
  key: { alignSelf: 'flex-start' },
})
