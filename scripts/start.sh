#!/usr/bin/env bash
# The demo: installs, builds, starts database, made-up world and application, lays the demo. --reset lays it anew.
set -euo pipefail
cd "$(dirname "$0")/.."
scripts/install.sh mariadbd:mariadb-server mariadb-install-db:mariadb-server /usr/bin/chromium:chromium \
  /usr/share/citation-style-language/styles:citation-style-language-styles \
  /usr/share/citation-style-language/locales:citation-style-language-locales
exec node scripts/start.mjs "$@"
