#!/usr/bin/env bash
# Kills databases of a cluster and processes of the application while clients work; see bench/cluster.ts. KILLS=20 CLIENTS=8
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/install.sh mariadbd:mariadb-server mariadb-install-db:mariadb-server /usr/lib/galera/libgalera_smm.so:galera-4 \
  rsync:rsync haproxy:haproxy /usr/bin/chromium:chromium
node scripts/build.mjs
exec npx tsx bench/cluster.ts
