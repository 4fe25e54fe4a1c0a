/**
 * Benchmarks: ratios against well-known packages and bare kernels in the same process, and of incremental against whole work. Prints, asserts nothing. Each subject has a process of its
 * own, so that what one leaves behind in the engine colours no other. Run on a quiet machine: npm run bench, or npm run bench -- break joins
 */
import { spawnSync } from 'node:child_process'
import { benchBevel } from './bevel'
import { benchBreak } from './break'
import { benchDeform } from './deform'
import { benchJoins } from './joins'
import { benchMotion } from './motion'
import { benchOutlines } from './outlines'
import { benchPhysics } from './physics'
import { benchRepeat } from './repeat'
import { benchSetting } from './setting'
import { benchVolume } from './volume'

const SUBJECTS: Record<string, () => Promise<void>> = {
  bevel: benchBevel,
  setting: benchSetting,
  outlines: benchOutlines,
  joins: benchJoins,
  volume: benchVolume,
  deform: benchDeform,
  repeat: benchRepeat,
  motion: benchMotion,
  break: benchBreak,
  physics: benchPhysics,
}

const asked = process.argv.slice(2)
const unknown = asked.filter((name) => !(name in SUBJECTS))
if (unknown.length > 0) {
  console.error(`There is no subject ${unknown.join(', ')}: ask for ${Object.keys(SUBJECTS).join(', ')}.`)
  process.exitCode = 2
} else if (asked.length === 1) await SUBJECTS[asked[0]]()
else
  for (const name of asked.length > 0 ? asked : Object.keys(SUBJECTS)) {
    const { status } = spawnSync(process.execPath, [...process.execArgv, process.argv[1], name], { stdio: 'inherit' })
    if (status !== 0) process.exitCode = 1
  }
