import fc from 'fast-check'

// the same cases in every run, so that a red run can be run again; KELVAR_SEED=… looks at others
fc.configureGlobal({ seed: Number(process.env.KELVAR_SEED ?? 20261125) })
