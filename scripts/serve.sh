#!/usr/bin/env bash
# The application alone, against the database and services given by settings (see README, "Running it for real").
set -euo pipefail
cd "$(dirname "$0")/.."
[ -f dist/server/main.js ] || { scripts/install.sh; node scripts/build.mjs; }
export NODE_ENV=production WEB_FOLDER=${WEB_FOLDER:-dist/web}
exec node dist/server/main.js
