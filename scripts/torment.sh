#!/usr/bin/env bash
# Kills server, database and reading children at random while many clients work; see bench/torment.ts. KILLS=300 CLIENTS=20
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/install.sh mariadbd:mariadb-server mariadb-install-db:mariadb-server /usr/bin/chromium:chromium
node scripts/build.mjs
exec npx tsx bench/torment.ts
