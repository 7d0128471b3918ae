/** How old the shown pose of a moving or just stopped camera is, on each kind of link that loses a tenth of its packets. */
import { Hands } from '../e2e/hands'
import { type Running, type StandInId, sleep } from '../e2e/harness'
import type { LivePose } from '../src/core/presets/pose'
import type { DeskView } from '../src/server/api'
import { type Figure, quantile, row } from './stats'

const LOSS = 0.1
const DRIVES = 10
const DRIVE_MS = 1200
/** It is looked at until this long after it was let go. */
const AFTER_MS = 1000
const LOOK_EVERY_MS = 10
/** Until the first reading of a motion can have come. */
const BEGINS_MS = 300

const LINKS: readonly [words: string, name: string, standIn: StandInId][] = [
  ['framed UDP', 'Gallery', 'gallery'],
  ['raw UDP', 'Scoreboard', 'scoreboard'],
  ['TCP', 'Stage left', 'stage-left'],
  ['serial', 'Lectern', 'lectern'],
  ['ONVIF', 'Benches', 'benches'],
]

interface Look {
  ageMs: number
  late: boolean
}

/** Drives to and fro, and looks at the newest pose that a page has. */
async function looks(hands: Hands, camera: string): Promise<Look[]> {
  const seen: Look[] = []
  const newest = (): LivePose | null => hands.facts('pose', camera).at(-1) ?? null
  const watch = async (ms: number, counts: boolean) => {
    for (const end = performance.now() + ms; performance.now() < end; await sleep(LOOK_EVERY_MS)) {
      const pose = newest()
      if (pose && counts) seen.push({ ageMs: Date.now() - pose.atMs, late: pose.late })
    }
  }
  for (let i = 0; i < DRIVES; i++) {
    hands.hold(new Map([[camera, { pan: i % 2 === 0 ? 0.5 : -0.5, tilt: 0, zoom: 0 }]]))
    await watch(BEGINS_MS, false)
    await watch(DRIVE_MS - BEGINS_MS, true)
    hands.release([camera])
    await watch(AFTER_MS, true)
    // What was heard before is of no more use.
    hands.heard.splice(0, Math.max(0, hands.heard.length - 200))
  }
  return seen
}

export async function benchFresh(stack: Running): Promise<Figure[]> {
  const desk = (await (await fetch(`${stack.address}/api/desk`)).json()) as DeskView
  const hands = await Hands.open(stack.address)
  await sleep(500)
  const figures: Figure[] = []
  for (const [words, name, standIn] of LINKS) {
    await stack.faults({ dropRate: LOSS }, standIn)
    const all = await looks(hands, desk.cameras.find((c) => c.name === name)!.id)
    await stack.faults({}, standIn)
    const ages = (late: boolean) => all.filter((look) => look.late === late).map(({ ageMs }) => ageMs)
    figures.push(
      row(`10 % loss, ${words}: age of the shown pose, median`, quantile(ages(false), 0.5), 'ms'),
      {
        ...row(`10 % loss, ${words}: oldest that is shown as fresh`, Math.max(...ages(false)), 'ms'),
        aim: 500,
      },
      row(
        `10 % loss, ${words}: share of the time that is said to be late`,
        (100 * ages(true).length) / all.length,
        '%',
      ),
    )
  }
  hands.close()
  return figures
}
