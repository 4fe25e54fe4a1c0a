#!/usr/bin/env bash
# Builds the application when its sources differ from those of the last build.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
now=$(find core/src core/fonts app/src app/next.config.ts package-lock.json tsconfig.base.json app/tsconfig.json -type f -not -name '*.test.ts' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d ' ' -f 1)
stamp=app/.next/kelvar-sources
if [ "$(cat "$stamp" 2>/dev/null)" != "$now" ]; then
  (cd app && NEXT_TELEMETRY_DISABLED=1 npx next build)
  # what every visitor fetches is packed once
  find app/.next/static -type f \( -name '*.js' -o -name '*.css' -o -name '*.wasm' -o -name '*.svg' \) -exec gzip -9 -k -n -f {} +
  echo "$now" >"$stamp"
fi
