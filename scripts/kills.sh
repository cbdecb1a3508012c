#!/bin/sh
# Kills the server under load, and each command, at random moments: 200 times, or as often as the first argument says.
# `make test` has a short form of it.
set -eu
cd "$(dirname "$0")/.."
out=$(mktemp)
trap 'rm -f "$out"' EXIT
failed=0
KILLS=${1:-200} go test -count=1 -timeout 60m -run 'TestNothingIsLost|TestKilledCommands' -v ./cmd/jarvo > "$out" 2>&1 || failed=$?
grep -Ev ' rows, |every stored figure agrees' "$out"
exit "$failed"
