#!/usr/bin/env bash
# Like the demo, but the server restarts and the interface reloads as their files change.
set -euo pipefail
cd "$(dirname "$0")/.."
exec bash scripts/start.sh --dev
