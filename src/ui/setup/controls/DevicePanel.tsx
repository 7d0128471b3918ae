/** One device: what each of its parts does, taught by moving it; its range, its curve, its camera. */
import { useCallback, useEffect, useRef, useState } from 'react'
import { StyleSheet, View } from 'react-native'
import { ACTION_NAMES, ACTIONS, type ActionName } from '../../../core/controls/actions'
import {
  AXIS_USES,
  type AxisBinding,
  type AxisUse,
  type DeviceProfile,
} from '../../../core/controls/controls'
import { Calibrator, deflection, Learner, type Reading } from '../../../core/controls/device'
import { beyondDeadZone } from '../../../core/stick/shape'
import type { DeskView } from '../../../server/api'
import { Choice } from '../../basics/Choice'
import { Key } from '../../basics/Key'
import { Words } from '../../basics/Words'
import { Fader } from '../../controls/Fader'
import { useControls } from '../../input/controlsStore'
import { changeProfile, devices, profileOf } from '../../input/devices'
import { RADIUS, TONES } from '../../theme/tones'
import { CurveEditor } from './CurveEditor'
import { useReading } from './useReading'

const USES: Record<AxisUse, { label: string; how: string }> = {
  pan: { label: 'Pan', how: 'Push what is to drive to the right, all the way.' },
  tilt: { label: 'Tilt', how: 'Push what is to drive upwards, all the way.' },
  zoom: { label: 'Zoom', how: 'Push what is to zoom in, all the way.' },
  focus: { label: 'Focus', how: 'Push what is to focus farther, all the way.' },
  speed: { label: 'Overall speed', how: 'Push the fader that is to set the speed, all the way up.' },
  setting: {
    label: 'The picture setting that was turned last',
    how: 'Turn the knob that is to turn it, all the way up.',
  },
}

type Work =
  | { kind: 'learn'; use: AxisUse; learner: Learner }
  | { kind: 'button'; action: ActionName; learner: Learner }
  | { kind: 'range'; use: AxisUse; calibrator: Calibrator }

interface DevicePanelProps {
  id: string
  desk: DeskView
}

export function DevicePanel({ id, desk }: DevicePanelProps) {
  useControls()
  const profile = profileOf(id)
  const [work, setWork] = useState<Work | null>(null)
  const [chosen, setChosen] = useState<ActionName>('store')
  const current = useRef(work)
  current.current = work
  const set = useCallback((change: (p: DeviceProfile) => DeviceProfile) => changeProfile(id, change), [id])
  const bind = useCallback(
    (use: AxisUse, binding: AxisBinding | null) =>
      set((p) => ({ ...p, axes: { ...p.axes, [use]: binding } })),
    [set],
  )

  // What is moved to teach it must not move a camera.
  useEffect(() => {
    devices.pause(work !== null)
    return () => devices.pause(false)
  }, [work])

  const onReading = useCallback(
    (reading: Reading) => {
      const now = current.current
      if (!now) return
      if (now.kind === 'range') {
        now.calibrator.feed(reading)
        return
      }
      const learnt = now.learner.feed(reading)
      if (!learnt) return
      setWork(null)
      if (now.kind === 'button') {
        if (learnt.kind !== 'button') return
        const { button } = learnt
        set((p) => ({
          ...p,
          buttons: [
            ...p.buttons.filter((b) => JSON.stringify(b.button) !== JSON.stringify(button)),
            { button, action: now.action },
          ],
        }))
      } else if (learnt.kind === 'axis') {
        const { index, centre, inverted } = learnt
        bind(now.use, {
          kind: 'axis',
          index,
          low: Math.min(-1, centre),
          centre,
          high: Math.max(1, centre),
          inverted,
        })
      } else {
        // Pressed instead of pushed: the opposite of a hat, or the next button, is the other way.
        const { button } = learnt
        const negative =
          button.kind === 'hat'
            ? { ...button, direction: ((button.direction + 4) % 8) as 0 | 2 | 4 | 6 }
            : { ...button, index: button.index + 1 }
        bind(now.use, { kind: 'buttons', positive: button, negative })
      }
    },
    [bind, set],
  )
  const reading = useReading(id, onReading)

  const endRange = () => {
    if (work?.kind !== 'range') return
    const range = work.calibrator.result()
    const binding = profile.axes[work.use]
    if (range && binding?.kind === 'axis') bind(work.use, { ...binding, ...range })
    setWork(null)
  }
  const stick = reading
    ? Math.hypot(deflection(reading, profile.axes.pan), deflection(reading, profile.axes.tilt))
    : 0

  return (
    <View style={styles.panel} testID="device">
      <Words size={16} weight="bold">
        {devices.get(id)?.name ?? id}
      </Words>
      <Choice
        label="It drives"
        options={[
          { value: '', label: 'The selected camera' },
          ...desk.cameras.map((c) => ({ value: c.id, label: `${c.number} ${c.name}` })),
        ]}
        value={profile.camera ?? ''}
        onChange={(camera) => set((p) => ({ ...p, camera: camera === '' ? null : camera }))}
        testID="device-camera"
      />
      {AXIS_USES.map((use) => (
        <AxisRow
          key={use}
          use={use}
          binding={profile.axes[use]}
          reading={reading}
          work={work}
          onLearn={() => setWork({ kind: 'learn', use, learner: new Learner() })}
          onRange={(index) => setWork({ kind: 'range', use, calibrator: new Calibrator(index) })}
          onRangeDone={endRange}
          onCancel={() => setWork(null)}
          onBind={(binding) => bind(use, binding)}
        />
      ))}
      <Fader
        label="Dead zone"
        value={profile.deadZone / 0.5}
        text={`${Math.round(profile.deadZone * 100)} %`}
        onChange={(share) => set((p) => ({ ...p, deadZone: share * 0.5 }))}
        testID="dead-zone"
      />
      <CurveEditor
        curve={profile.curve}
        onChange={(curve) => set((p) => ({ ...p, curve }))}
        live={beyondDeadZone(Math.min(1, stick), profile.deadZone)}
      />
      <Words size={15} weight="bold">
        Buttons
      </Words>
      {profile.buttons.map(({ button, action }) => (
        <View key={JSON.stringify(button)} style={styles.row}>
          <Words size={14} style={styles.grow}>
            {`${button.kind === 'hat' ? `Hat ${['up', '', 'right', '', 'down', '', 'left'][button.direction]}` : `Button ${button.index + 1}`}: ${ACTIONS[action].label}`}
          </Words>
          <Key
            label="Remove"
            onPress={() =>
              set((p) => ({
                ...p,
                buttons: p.buttons.filter(
                  (b) => b.button !== button && JSON.stringify(b.button) !== JSON.stringify(button),
                ),
              }))
            }
          />
        </View>
      ))}
      <Choice<ActionName>
        label="A button for"
        options={ACTION_NAMES.map((name) => ({ value: name, label: ACTIONS[name].label }))}
        value={chosen}
        onChange={setChosen}
        testID="button-action"
      />
      {work?.kind === 'button' ? (
        <View style={styles.row}>
          <Words size={15} tone="heron" style={styles.grow}>
            Press the button on the device now.
          </Words>
          <Key label="Cancel" onPress={() => setWork(null)} />
        </View>
      ) : (
        <Key
          label={`Teach a button for: ${ACTIONS[chosen].label}`}
          tone="filled"
          onPress={() => setWork({ kind: 'button', action: chosen, learner: new Learner() })}
          testID="teach-button"
        />
      )}
    </View>
  )
}

interface AxisRowProps {
  use: AxisUse
  binding: AxisBinding | null
  reading: Reading | null
  work: Work | null
  onLearn(): void
  onRange(index: number): void
  onRangeDone(): void
  onCancel(): void
  onBind(binding: AxisBinding | null): void
}

function AxisRow({
  use,
  binding,
  reading,
  work,
  onLearn,
  onRange,
  onRangeDone,
  onCancel,
  onBind,
}: AxisRowProps) {
  const value = reading ? deflection(reading, binding) : 0
  const learning = work?.kind === 'learn' && work.use === use
  const ranging = work?.kind === 'range' && work.use === use
  const percent = (share: number) => `${share * 100}%` as const
  return (
    <View style={styles.axis}>
      <View style={styles.row}>
        <Words size={15} weight="semiBold" style={styles.name}>
          {USES[use].label}
        </Words>
        <View
          style={styles.bar}
          testID={`axis-${use}`}
          accessibilityLabel={`${USES[use].label} ${Math.round(value * 100)}`}
        >
          <View
            style={[
              styles.fill,
              { left: percent(0.5 + Math.min(0, value) / 2), width: percent(Math.abs(value) / 2) },
            ]}
          />
        </View>
        {learning || ranging ? (
          <Key
            label={ranging ? 'Done' : 'Cancel'}
            onPress={ranging ? onRangeDone : onCancel}
            testID={ranging ? `range-done-${use}` : undefined}
          />
        ) : (
          <>
            <Key label="Teach" onPress={onLearn} testID={`teach-${use}`} />
            {binding?.kind === 'axis' ? (
              <>
                <Key label="Range" onPress={() => onRange(binding.index)} testID={`range-${use}`} />
                <Key
                  label="Invert"
                  on={binding.inverted}
                  onPress={() => onBind({ ...binding, inverted: !binding.inverted })}
                  testID={`invert-${use}`}
                />
              </>
            ) : null}
            {binding ? <Key label="None" onPress={() => onBind(null)} testID={`unbind-${use}`} /> : null}
          </>
        )}
      </View>
      {learning ? (
        <Words size={14} tone="heron" testID="teach-how">
          {USES[use].how}
        </Words>
      ) : null}
      {ranging ? (
        <Words size={14} tone="heron">
          Let it rest, then move it to both ends, and press Done.
        </Words>
      ) : null}
    </View>
  )
}

const styles = StyleSheet.create({
  panel: {
    gap: 12,
    padding: 14,
    borderRadius: RADIUS.middle,
    borderWidth: 1,
    borderColor: TONES.line,
    backgroundColor: TONES.marsh,
  },
  axis: { gap: 4 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  name: { width: 106 },
  grow: { flex: 1 },
  bar: {
    flexGrow: 1,
    minWidth: 90,
    height: 14,
    borderRadius: 7,
    backgroundColor: TONES.ink,
    overflow: 'hidden',
  },
  fill: { position: 'absolute', top: 0, height: 14, backgroundColor: TONES.heron },
})
