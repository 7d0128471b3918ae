/** What is odd about VISCA cameras of the field: each by itself, with the links over which it is met. */
import type { Odd } from './fieldRig'
import type { Over } from './wayLink'

const STEPS = 14.4
/** Max(0.1 degree, three encoder steps), and the gears' own play. */
export const offBy = (odd: Odd) =>
  Math.max(0.1, 3 / Math.abs(odd.head?.panSteps ?? STEPS)) + 2 * (odd.head?.backlashDeg ?? 0) + 0.02

export const IP: readonly Over[] = ['framed', 'raw', 'tcp']
export const ALL: readonly Over[] = [...IP, 'serial']

const ODDITIES: Record<string, { odd: Odd; over: readonly Over[]; says?: RegExp }> = {
  'as the standard has it': { odd: {}, over: ALL },
  'completions alone, never acknowledged': { odd: { visca: { acks: 'completion' } }, over: ALL },
  'commands never answered': { odd: { visca: { acks: 'none' } }, over: ALL, says: /never answers a command/ },
  'answers in a socket': { odd: { visca: { answersInSocket: true } }, over: ALL, says: /number of a socket/ },
  'answers as camera 2': { odd: { visca: { answersAs: 2 } }, over: IP, says: /another camera/ },
  'the reset answered under another number': { odd: { framing: { resets: 'other' } }, over: ['framed'] },
  'the reset never answered': { odd: { framing: { resets: 'never' } }, over: ['framed'], says: /reset/ },
  'answers under number 0': { odd: { framing: { numbers: 'zero' } }, over: ['framed'], says: /their order/ },
  'answers under numbers of its own': { odd: { framing: { numbers: 'own' } }, over: ['framed'] },
  'counting on from another controller': {
    odd: { framing: { countsFrom: 50_000, resets: 'never' } },
    over: ['framed'],
  },
  'losing count now and then': { odd: { framing: { losesCountAfter: 90 } }, over: ['framed'] },
  'several answers in one packet': {
    odd: { framing: { joins: true } },
    over: ['framed'],
    says: /several answers/,
  },
  'pan in five digits': { odd: { visca: { digits: [5, 4] } }, over: ALL, says: /more digits/ },
  'both in five digits': { odd: { visca: { digits: [5, 5] } }, over: ALL },
  'a short status': { odd: { visca: { shortStatus: true } }, over: ALL },
  'questions refused at first': { odd: { visca: { refusesAtFirst: true } }, over: ALL },
  'power and focus never told': { odd: { visca: { ignores: ['04 00', '04 38', '04 48'] } }, over: ALL },
  'a packet in each picture': { odd: { visca: { gapMs: 33 } }, over: IP },
  'a packet in every other picture': { odd: { visca: { gapMs: 45 } }, over: IP },
  'sockets left busy': { odd: { visca: { socketsLeftBusy: true } }, over: ALL },
  'sockets held for long': { odd: { visca: { holdsSocketMs: 400 } }, over: ALL, says: /sockets were busy/ },
  'an address set by a switch': { odd: { fixedAddress: 3 }, over: ['serial'], says: /fixed addresses/ },
  'late to move': { odd: { head: { delayMs: 150 } }, over: ALL },
  'positions late and rarely renewed': { odd: { head: { renewMs: 200, lagMs: 300 } }, over: ALL },
  'a ramp that starts anew with every packet': { odd: { head: { restartsRamp: true } }, over: ALL },
  'its own slow mode': { odd: { head: { slow: 0.3 } }, over: ALL },
  backlash: { odd: { head: { backlashDeg: 0.08 } }, over: ALL },
  'the speed of a move ignored': { odd: { head: { ignoresMoveSpeed: true } }, over: ALL },
  'stopping two steps beside its goal': { odd: { head: { misses: 2 } }, over: ALL },
  'reporting where it goes': { odd: { head: { reportsGoal: true } }, over: ALL },
}

export const CASES = Object.entries(ODDITIES).flatMap(([name, { over, ...rest }]) =>
  over.map((one) => ({ name, over: one, ...rest })),
)
