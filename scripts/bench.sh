#!/bin/sh
# Runs the benchmarks and writes their table into docs/performance.md: each measure of Jarvo beside the plainest
# query or file read that gives the same rows, in the same run.
set -eu
out=$(mktemp)
trap 'rm -f "$out"' EXIT
go test -p 1 -run '^$' -bench . -benchtime "${BENCHTIME:-10x}" -benchmem ./internal/app/ ./internal/api/ | tee "$out"
table=$(awk '
  /^cpu:/ { sub(/^cpu: */, ""); cpu = $0 }
  /^Benchmark/ {
    split($1, part, "/"); name = part[1]; sub(/^Benchmark/, "", name); kind = part[2]; sub(/-[0-9]+$/, "", kind)
    ms[name, kind] = $3 / 1e6; if (!(name in seen)) { seen[name] = 1; order[++n] = name }
  }
  END {
    print "Measured on: " cpu "\n"
    print "| what | Jarvo, ms | plain, ms | ratio |"
    print "|---|--:|--:|--:|"
    for (i = 1; i <= n; i++) {
      name = order[i]; words = name; gsub(/[A-Z]/, " &", words); words = tolower(substr(words, 2))
      if ((name, "plain") in ms) printf "| %s | %.1f | %.1f | %.1f |\n", words, ms[name, "jarvo"], ms[name, "plain"], ms[name, "jarvo"] / ms[name, "plain"]
      else printf "| %s | %.1f | | |\n", words, ms[name, "jarvo"]
    }
  }' "$out")
typing=$(go test -run '^$' -bench Typing -benchtime 5x ./e2e/hours/ | tee /dev/stderr | awk '/^BenchmarkTyping/ {
  printf "In the browser, a crew sheet of 455 lines: from a key to its echo %.1f ms (95 in 100 within %.1f), drawn in %.0f ms.", $5, $7, $9 }')
table="$table

$typing"
awk -v table="$table" '/<!-- table -->/ { print; print ""; print table; print ""; skip = 1 } /<!-- end -->/ { skip = 0 } !skip || /<!-- table -->/ { if (!/<!-- table -->/) print }' docs/performance.md > "$out"
cp "$out" docs/performance.md
