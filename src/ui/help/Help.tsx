/** A question mark that opens the page about just this view; from there all others, searched by letters. */
import { Link, usePathname } from 'expo-router'
import CircleQuestionMark from 'lucide-react-native/icons/circle-question-mark'
import { useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { Choice } from '../basics/Choice'
import { Field } from '../basics/Field'
import { Key } from '../basics/Key'
import { Sheet } from '../basics/Sheet'
import { Words } from '../basics/Words'
import { TONES } from '../theme/tones'
import type { HelpPage } from './page'
import { found, HELP, WALK } from './pages'

export function Help({ slim = false }: { slim?: boolean }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Key
        label=""
        accessibilityLabel="Help"
        tone="quiet"
        icon={<CircleQuestionMark size={slim ? 18 : 20} color={TONES.mist} />}
        onPress={() => setOpen(true)}
        style={slim ? styles.slim : styles.key}
        testID="help"
      />
      {open ? <HelpSheet onClose={() => setOpen(false)} /> : null}
    </>
  )
}

const FIRST = 'first'

function HelpSheet({ onClose }: { onClose(): void }) {
  const path = usePathname()
  const [shown, setShown] = useState(path in HELP ? path : '/')
  const [text, setText] = useState('')
  const hits = text.trim() === '' ? [] : Object.values(HELP).flatMap((page) => found(page, text) ?? [])
  const searching = text.trim() !== ''
  return (
    <Sheet title="Help" onClose={onClose} testID="help-sheet">
      <Field
        label="Find in all pages"
        value={text}
        placeholder="tally, look, silent"
        onChangeText={setText}
        testID="help-find"
      />
      {searching ? null : (
        <Choice
          label="About"
          options={[
            ...Object.entries(HELP).map(([value, { title }]) => ({ value, label: title })),
            { value: FIRST, label: 'First evening' },
          ]}
          value={shown}
          onChange={(value) => setShown(String(value))}
          testID="help-page"
        />
      )}
      {searching && hits.length === 0 ? <Words tone="mist">Nothing is found for that.</Words> : null}
      {searching ? hits.map((page) => <Page key={page.title} page={page} />) : null}
      {!searching && shown === FIRST ? <Walk onGo={onClose} /> : null}
      {!searching && HELP[shown] ? <Page page={HELP[shown]} /> : null}
    </Sheet>
  )
}

function Page({ page: { title, about, controls, wrong } }: { page: HelpPage }) {
  return (
    <View style={styles.page} testID={`help-of-${title}`}>
      <Words size={18} weight="bold" role="heading" aria-level={2}>
        {title}
      </Words>
      <Words tone="mist">{about}</Words>
      {controls.map(({ name, does }) => (
        <Words key={name} size={15}>
          <Words size={15} weight="semiBold">
            {name}
          </Words>
          {`: ${does}`}
        </Words>
      ))}
      {wrong.length > 0 ? (
        <Words size={15} weight="bold" role="heading" aria-level={3} style={styles.heading}>
          What goes wrong
        </Words>
      ) : null}
      {wrong.map(({ what, instead }) => (
        <View key={what}>
          <Words size={15} weight="semiBold">
            {what}
          </Words>
          <Words size={15} tone="mist">
            {instead}
          </Words>
        </View>
      ))}
    </View>
  )
}

function Walk({ onGo }: { onGo(): void }) {
  return (
    <View style={styles.page} role="list" testID="help-walk">
      <Words tone="mist">
        Half an hour at the demo’s barn, where nothing can break. Each step leads to its place.
      </Words>
      {WALK.map(({ path, what }, i) => (
        <View key={what} role="listitem" style={styles.step}>
          <Words weight="bold">{i + 1}</Words>
          <View style={styles.what}>
            <Words size={15}>{what}</Words>
            <Link href={path as '/'} onPress={onGo} style={styles.link}>
              <Words size={15} tone="heron">
                {`To ${HELP[path]!.title}`}
              </Words>
            </Link>
          </View>
        </View>
      ))}
    </View>
  )
}

const styles = StyleSheet.create({
  key: { minWidth: 44, paddingHorizontal: 8 },
  slim: { minWidth: 36, minHeight: 30, paddingHorizontal: 4, paddingVertical: 0 },
  page: { gap: 8 },
  heading: { marginTop: 8 },
  step: { flexDirection: 'row', gap: 12 },
  what: { flex: 1 },
  link: { paddingVertical: 10, textDecorationLine: 'none' },
})
