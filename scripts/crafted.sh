#!/bin/sh
# Reads files that are made to hurt, all of them and at their largest. `make test` has a short form of it.
set -eu
cd "$(dirname "$0")/.."
CRAFTED=yes go test -count=1 -timeout 60m -run TestCraftedFiles -v ./internal/scan
