#!/usr/bin/env bash
# Installs what is missing: PostgreSQL, the npm packages when the lock changed, and, when "browser" is asked for, what the
# tests need as well: Chromium, and the independent readers of model files and films.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

packages=()
ls -d /usr/lib/postgresql/*/bin >/dev/null 2>&1 || packages+=(postgresql)
if [ "${1:-}" = browser ]; then
  command -v chromium >/dev/null || packages+=(chromium)
  command -v assimp >/dev/null || packages+=(assimp-utils)
  command -v admesh >/dev/null || packages+=(admesh)
  command -v ffprobe >/dev/null || packages+=(ffmpeg)
  command -v xmllint >/dev/null || packages+=(libxml2-utils)
fi
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
