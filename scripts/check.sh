#!/usr/bin/env bash
# What to run while working: types, and format, lint and unit tests of what was changed since the last commit.
set -uo pipefail
cd "$(dirname "$0")/.."
mapfile -t changed < <({ git diff --name-only --diff-filter=d HEAD; git ls-files --others --exclude-standard; } | sort -u)
if [ ${#changed[@]} -eq 0 ]; then
  echo "Nothing was changed since the last commit."
  exit 0
fi
failed=0
npx prettier --check --ignore-unknown "${changed[@]}" || failed=1
mapfile -t code < <(printf '%s\n' "${changed[@]}" | grep -E '\.(ts|tsx|mjs)$')
if [ ${#code[@]} -gt 0 ]; then
  npx eslint "${code[@]}" || failed=1
  npm run --silent types || failed=1
  NODE_OPTIONS='--experimental-vm-modules --no-warnings' npx jest --passWithNoTests --findRelatedTests "${code[@]}" || failed=1
fi
exit $failed
