#!/bin/sh
# Changes a book in some sixty ways with another program, and looks whether verify tells each. `make test` has a short form of it.
set -eu
cd "$(dirname "$0")/.."
TAMPERED=yes go test -count=1 -timeout 60m -run TestWhatIsChanged -v ./internal/app/verify
