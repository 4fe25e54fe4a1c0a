import { type Track, valueAt } from './track'

/** A number over time, for what is made of all of it at once. */
export interface OverTime {
  readonly track: Track
  /** frames a second */
  readonly rate: number
  /** what it is held to */
  readonly least: number
  readonly most: number
}

/** Its value at a moment, s; to a millionth, which every engine rounds alike. */
export function numberAt({ track, rate, least, most }: OverTime, seconds: number): number {
  const value = valueAt(track, seconds * rate)
  return typeof value === 'number' ? Math.round(1e6 * Math.min(most, Math.max(least, value))) / 1e6 : 0
}

/** Whether it is nought from a moment on for good, s. */
export function isOver({ track: { keys, after, besides }, rate }: OverTime, seconds: number): boolean {
  const last = keys[keys.length - 1]
  return after === 'stays' && !besides && last.value === 0 && seconds * rate >= last.at
}

/** How much of it has gone by at a moment, s: its integral from nought, by the trapezoidal rule over steps of a sixtieth of a second. */
export function goneBy(number: OverTime): (seconds: number) => number {
  const sums = [0]
  return (seconds) => {
    const step = Math.max(0, seconds * STEPS)
    const whole = Math.floor(step)
    for (let n = sums.length; n < whole + 2; n++) sums.push(sums[n - 1] + (numberAt(number, (n - 1) / STEPS) + numberAt(number, n / STEPS)) / (2 * STEPS))
    return sums[whole] + (step - whole) * (sums[whole + 1] - sums[whole])
  }
}

const STEPS = 60
