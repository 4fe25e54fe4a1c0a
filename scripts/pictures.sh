#!/usr/bin/env bash
# Makes the pictures of the README and of the finder anew, on a database and a server of their own: `npm run pictures [NAME…]`.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
port="${KELVAR_PICTURES_PORT:-3719}"
bash scripts/install.sh browser
. scripts/postgres.sh kelvar_pictures
"$pg_bin/dropdb" -h 127.0.0.1 -p "$pg_port" -U kelvar --force kelvar_pictures && "$pg_bin/createdb" -h 127.0.0.1 -p "$pg_port" -U kelvar kelvar_pictures
npx tsx app/scripts/prepare-database.ts --demo
bash scripts/build.sh
set -m
(cd app && exec npx tsx serve.ts --port "$port") >/dev/null &
server=$!
# npx has the server as a child: the whole group ends
trap 'kill -- -$server 2>/dev/null || true' EXIT
until node -e "fetch('http://127.0.0.1:$port/api/projects').then((r) => process.exit(r.ok ? 0 : 1), () => process.exit(1))"; do sleep 0.3; done
KELVAR_URL="http://127.0.0.1:$port" npx tsx app/scripts/pictures.ts "$@"
