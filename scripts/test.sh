#!/usr/bin/env bash
# Everything there is to check, from nothing: format, lint, types, unit and server tests, browser tests.
# Ends with the line "N passed, N failed". With --only NAME: just the tests whose name has it (a pattern), of every kind.
set -uo pipefail
cd "$(dirname "$0")/.."
scripts/install.sh mariadbd:mariadb-server mariadb-install-db:mariadb-server /usr/bin/chromium:chromium \
  /usr/share/citation-style-language/styles:citation-style-language-styles \
  /usr/share/citation-style-language/locales:citation-style-language-locales || { echo "0 passed, 1 failed"; exit 1; }
if [ "${1:-}" = --only ]; then export ONLY=${2:?Give the name of a test after --only.}; fi
only=${ONLY:-}
passed=0 failed=0
mkdir -p test-results
say() { echo "── $1 (begun after ${SECONDS} s)"; }
step() {
  local name=$1
  shift
  say "$name"
  if "$@"; then passed=$((passed + 1)); else
    failed=$((failed + 1))
    echo "$name FAILED"
  fi
}
# adds the counts that a test runner wrote to a JSON file
count() {
  read -r ok bad < <(node -e '
    const fs = require("fs"), [file, kind] = process.argv.slice(1)
    if (!fs.existsSync(file)) { console.log(process.env.ONLY ? "0 0" : "0 1"); process.exit() }
    const r = JSON.parse(fs.readFileSync(file, "utf8"))
    if (kind === "jest") console.log(r.numPassedTests, r.numFailedTests + r.numRuntimeErrorTestSuites)
    else console.log(r.stats.expected + r.stats.flaky, r.stats.unexpected + r.errors.length)' "$1" "$2")
  passed=$((passed + ok)) failed=$((failed + bad))
}
if [ -z "$only" ]; then
  # format and lint need no more than one core between them: they run beside the types
  npx prettier --check . --log-level warn >test-results/format.log 2>&1 &
  format=$!
  npx eslint . >test-results/lint.log 2>&1 &
  lint=$!
  ended() { wait "$1" || { cat "$2"; return 1; }; }
  step types npm run --silent types
  step format ended "$format" test-results/format.log
  step lint ended "$lint" test-results/lint.log
fi
step build node scripts/build.mjs
say "unit and server tests"
rm -f test-results/jest.json test-results/browser.json
NODE_OPTIONS='--experimental-vm-modules --no-warnings' npx jest --ci --maxWorkers=2 --json --outputFile=test-results/jest.json --silent ${only:+--testNamePattern "$only"} >/dev/null 2>test-results/jest.log || {
  # every failure by name first, then what each said
  grep -E '^FAIL|●' test-results/jest.log | sort -u
  grep -E '●' -A 14 test-results/jest.log | head -300
}
count test-results/jest.json jest
# the demo is laid only where a browser test has the name
if [ -z "$only" ] || npx playwright test --list --grep "$only" >/dev/null 2>&1; then
  say "browser tests"
  npx playwright test ${only:+--grep "$only"} || true
  count test-results/browser.json browser
  node -e 'const n = JSON.parse(require("fs").readFileSync("test-results/browser.json")).stats.flaky; if (n) console.log(`${n} browser tests passed at the second try only`)' || true
fi
echo "$passed passed, $failed failed"
[ "$failed" -eq 0 ]
