#!/usr/bin/env node
// The command line is TypeScript run as it stands, so that it is ready right after `npm ci`.
import { register } from 'tsx/esm/api'

register()
const { main } = await import('./main.ts')
process.exitCode = await main(process.argv.slice(2))
