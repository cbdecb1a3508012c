#!/bin/sh
# Sends requests that are made up of the description of the interface: 50,000, or as many as the first argument says.
# `make test` has a short form of it.
set -eu
cd "$(dirname "$0")/.."
REQUESTS=${1:-50000} go test -count=1 -timeout 60m -run TestNoRequest -v ./internal/api
