#!/bin/sh
# Fails where a generated file is not what it would be generated as now.
set -eu
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
go run ./cmd/jarvo openapi > "$folder/openapi.json"
cmp docs/openapi.json "$folder/openapi.json" || { echo "docs/openapi.json has drifted; run make api"; exit 1; }
cd web
npx --no-install openapi-typescript ../docs/openapi.json -o "$folder/schema.gen.ts" >/dev/null 2>&1
cmp src/api/schema.gen.ts "$folder/schema.gen.ts" || { echo "web/src/api/schema.gen.ts has drifted; run make api"; exit 1; }
