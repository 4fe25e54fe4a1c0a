#!/usr/bin/env bash
# Installs what is missing: PostgreSQL, Chromium when "browser" is asked for, and the npm packages when the lock changed.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

packages=()
ls -d /usr/lib/postgresql/*/bin >/dev/null 2>&1 || packages+=(postgresql)
if [ "${1:-}" = browser ] && ! command -v chromium >/dev/null; then packages+=(chromium); fi
if [ ${#packages[@]} -gt 0 ]; then
  if [ "$(id -u)" = 0 ]; then sudo=(); elif command -v sudo >/dev/null; then sudo=(sudo); else
    echo "Please install with apt: ${packages[*]}" >&2
    exit 1
  fi
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get update -qq
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${packages[@]}" >/dev/null
fi

stamp=node_modules/.kelvar-lock
if [ ! -d node_modules ] || ! cmp -s package-lock.json "$stamp"; then
  npm ci --no-audit --no-fund --loglevel=error
  cp package-lock.json "$stamp"
fi
