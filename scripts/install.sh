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
sudo=()
if [ ${#packages[@]} -gt 0 ] && [ "$(id -u)" != 0 ]; then
  command -v sudo >/dev/null || {
    echo "Please install with apt: ${packages[*]}" >&2
    exit 1
  }
  sudo=(sudo)
fi
debian() {
  [ ${#packages[@]} -eq 0 ] && return
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get update -qq
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${packages[@]}" >/dev/null
}
# both wait for the network most of the time
debian &
debian=$!

stamp=node_modules/.kelvar-lock
if [ ! -d node_modules ] || ! cmp -s package-lock.json "$stamp"; then
  npm ci --no-audit --no-fund --loglevel=error
  cp package-lock.json "$stamp"
fi
wait "$debian"
