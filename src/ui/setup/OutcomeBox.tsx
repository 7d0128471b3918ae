/** The result of trying a camera. */
import Check from 'lucide-react-native/icons/check'
import TriangleAlert from 'lucide-react-native/icons/triangle-alert'
import { StyleSheet, View } from 'react-native'
import type { Connection, Picture } from '../../core/cameras/connection'
import type { Outcome } from '../../server/api'
import { Key } from '../basics/Key'
import { Words } from '../basics/Words'
import { RADIUS, TONES } from '../theme/tones'

interface OutcomeBoxProps {
  outcome: Outcome
  /** The picture that is entered now, so that it is not offered again. */
  pictureUrl: string
  /** The profile that is chosen now. */
  head: { id: string; confirmed: boolean }
  onTake(connection: Connection): void
  onPicture(picture: Picture): void
  /** Null where the form has no single link. */
  onOpenly: (() => void) | null
  onTrust(): void
  onHead(id: string): void
}

export function OutcomeBox({ outcome, pictureUrl, ...on }: OutcomeBoxProps) {
  const { ok, problem, remarks, offers, device, roundTripMs } = outcome
  const pictures = outcome.pictures.filter((p) => 'url' in p && p.url !== pictureUrl)
  const named = outcome.head !== null && !(outcome.head.id === on.head.id && on.head.confirmed)
  const time = roundTripMs === null ? '' : ` in ${Math.max(1, Math.round(roundTripMs))} ms`
  return (
    <View
      style={[styles.box, !ok && styles.wrong]}
      accessibilityRole={ok ? 'none' : 'alert'}
      testID="outcome"
    >
      <View style={styles.line}>
        {ok ? <Check size={20} color={TONES.heron} /> : <TriangleAlert size={20} color={TONES.clay} />}
        <Words size={15} weight="semiBold" tone={ok ? 'sand' : 'clay'} style={styles.text}>
          {ok ? `It answers${time}${device ? `: ${device}` : ''}.` : problem?.text}
        </Words>
      </View>
      {remarks.map((remark) => (
        <Words key={remark} size={14} tone="clay">
          {remark}
        </Words>
      ))}
      {named ? <Words size={14}>Its version names its head: {outcome.head?.name}.</Words> : null}
      {offers.length > 0 ? (
        <Words size={14}>Something else answers at this address. Use it instead?</Words>
      ) : null}
      <View style={styles.keys}>
        {named && outcome.head ? (
          <Key
            label="Use this head profile"
            tone="filled"
            onPress={() => on.onHead(outcome.head!.id)}
            testID="take-head"
          />
        ) : null}
        {problem?.code === 'open-password' && on.onOpenly ? (
          <Key label="Send it in the open" onPress={on.onOpenly} testID="allow-openly" />
        ) : null}
        {problem?.code === 'certificate' ? (
          <Key label="Trust the new certificate" onPress={on.onTrust} testID="trust-certificate" />
        ) : null}
        {offers.map((offer) => (
          <Key
            key={offer.label}
            label={offer.label}
            tone="filled"
            onPress={() => on.onTake(offer.connection)}
            testID={`offer-${offer.connection.kind}`}
          />
        ))}
        {pictures.map((picture) => (
          <Key
            key={JSON.stringify(picture)}
            label={picture.kind === 'rtsp' ? 'Use its video' : 'Use its JPEGs'}
            tone="filled"
            onPress={() => on.onPicture(picture)}
            testID={`picture-offer-${picture.kind}`}
          />
        ))}
      </View>
    </View>
  )
}

const styles = StyleSheet.create({
  box: {
    gap: 8,
    padding: 12,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.heron,
    backgroundColor: TONES.ink,
  },
  wrong: { borderColor: TONES.clay },
  line: { flexDirection: 'row', gap: 10 },
  text: { flex: 1 },
  keys: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
})
