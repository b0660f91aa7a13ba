#!/usr/bin/env bash
# Installs what is missing: Debian's packages named in the arguments as PROGRAM_OR_FILE:PACKAGE, then the npm packages.
set -euo pipefail
cd "$(dirname "$0")/.."
missing=()
for pair in "$@"; do
  probe=${pair%%:*} package=${pair##*:}
  if [[ $probe == /* ]]; then [ -e "$probe" ] || missing+=("$package"); else command -v "$probe" >/dev/null || missing+=("$package"); fi
done
if [ ${#missing[@]} -gt 0 ]; then
  if [ "$(id -u)" -ne 0 ]; then
    echo "These Debian packages are missing: ${missing[*]}. Install them as root: apt-get install ${missing[*]}" >&2
    exit 1
  fi
  echo "Installing ${missing[*]} …"
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq >/dev/null
  apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi
stamp=node_modules/.installed-lock
if ! cmp -s package-lock.json "$stamp" 2>/dev/null; then
  echo "Installing npm packages …"
  npm ci --no-audit --no-fund --prefer-offline --loglevel=error >/dev/null
  cp package-lock.json "$stamp"
fi
