#!/usr/bin/env bash
# Runs every test. However it ends, its last lines say what fell and why; the whole logs lie in var/test.
#   MENDRY_LIMIT    seconds after which the run is ended and says what had not ended (4,800: CI gives 5,400)
set -uo pipefail
cd "$(dirname "$0")/.."
logs=$PWD/var/test
limit=${MENDRY_LIMIT:-4800}
rm -rf "$logs"
mkdir -p "$logs"
export MENDRY_LOGS=$logs

# What tests put into folders of their own lies in one of this run's, which goes with it; one of a run that was killed
# goes now.
for left in "${TMPDIR:-/tmp}"/mendry-run-*; do
  [ -d "$left" ] && [ ! -d "/proc/${left##*-}" ] && rm -rf "$left"
done
temp=${TMPDIR:-/tmp}/mendry-run-$$
mkdir -m 755 "$temp"
trap 'rm -rf "$temp"' EXIT

TMPDIR=$temp timeout --kill-after=30 "$limit" ./scripts/stages.sh
code=$?
stopped=()
case $code in 124 | 137) stopped=("stopped after $limit seconds: what had not ended is named above") ;; esac
node scripts/said.mjs "$logs" "${stopped[@]}"
exit "$code"
