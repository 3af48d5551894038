#!/usr/bin/env bash
# Everything: formatting, vet, staticcheck, types, lint, Go tests, browser
# tests. It installs what it needs, prints the runners' own summaries and
# closes with a line "N passed, N failed".
set -uo pipefail
cd "$(dirname "$0")/.."
export CGO_ENABLED=1 PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1

passed=0
failed=0
out=$(mktemp -d)
trap 'rm -rf "$out"' EXIT

step() { # name, command...
  local name=$1
  shift
  echo "== $name"
  if "$@"; then passed=$((passed + 1)); else
    failed=$((failed + 1))
    echo "FAILED: $name"
  fi
}

need() {
  for tool in go node npm cc; do
    command -v "$tool" >/dev/null || { echo "$tool is missing: install Go 1.26, Node 20 with npm, and a C compiler."; exit 1; }
  done
  command -v chromium-headless-shell >/dev/null && command -v pdftotext >/dev/null && return
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    echo "== installing Chromium and what reads PDFs from Debian's packages"
    (apt-get update && DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends chromium-headless-shell poppler-utils) >"$out/apt" 2>&1 || { tail -20 "$out/apt"; exit 1; }
  else
    command -v chromium >/dev/null && command -v pdftotext >/dev/null && return
    echo "Chromium or pdftotext is missing: install the packages chromium-headless-shell (or chromium) and poppler-utils, then run make test again."
    exit 1
  fi
}

formatted() { test -z "$(gofmt -l cmd web books store formats core demo bench standin ui/embed.go floors_test.go | tee /dev/stderr)"; }

types_current() { # the interface's types are those of the API as it is
  go run ./cmd/cleantally openapi >"$out/openapi.json" && diff -q "$out/openapi.json" ui/src/api/openapi.json &&
    (cd ui && npx openapi-typescript "$out/openapi.json" -o "$out/schema.d.ts" >/dev/null && diff -q "$out/schema.d.ts" src/api/schema.d.ts)
}

go_tests() {
  go test -json ./... >"$out/go.json"
  local status=$?
  # Go's own summary, and its tests counted one by one.
  grep -E '"Output":"(ok|FAIL|---? FAIL|panic)' "$out/go.json" | sed -E 's/.*"Output":"(.*)\\n"}/\1/; s/\\t/\t/g' | sort -u
  local ok bad
  ok=$(grep -c '"Action":"pass".*"Test":' "$out/go.json")
  bad=$(grep -c '"Action":"fail".*"Test":' "$out/go.json")
  if [ $status -ne 0 ]; then grep '"Action":"output"' "$out/go.json" | grep -v -E '"Output":"(=== |ok |--- PASS|PASS)' | sed -E 's/.*"Output":"(.*)"}/\1/; s/\\n$//; s/\\t/  /g' | tail -80; [ "$bad" -eq 0 ] && bad=1; fi
  echo "go: $ok tests passed, $bad failed"
  passed=$((passed + ok))
  failed=$((failed + bad))
}

browser_tests() {
  (cd e2e && npx playwright test) | tee "$out/e2e"
  local status=${PIPESTATUS[0]} ok bad
  ok=$(grep -oE '[0-9]+ passed' "$out/e2e" | tail -1 | cut -d' ' -f1)
  bad=$(grep -oE '[0-9]+ failed' "$out/e2e" | tail -1 | cut -d' ' -f1)
  [ "$status" -ne 0 ] && [ "${bad:-0}" -eq 0 ] && bad=1
  passed=$((passed + ${ok:-0}))
  failed=$((failed + ${bad:-0}))
}

need
step "interface: install" bash -c 'cd ui && npm ci --no-audit --no-fund >/dev/null'
step "browser tests: install" bash -c 'cd e2e && npm ci --no-audit --no-fund >/dev/null'
step "interface: build" bash -c 'cd ui && npx vite build >/dev/null'
step "program: build" go build -o bin/cleantally ./cmd/cleantally
step "replicator: build" go build -C replicator -o ../bin/litestream github.com/benbjohnson/litestream/cmd/litestream
step "Go: formatted" formatted
step "Go: vet" go vet ./...
step "Go: staticcheck" go tool staticcheck ./...
step "interface: its types are those of the API" types_current
step "interface: types" bash -c 'cd ui && npx tsc --noEmit && cd ../e2e && npx tsc --noEmit'
step "interface: eslint" bash -c 'cd ui && npx eslint .'
step "interface: prettier" bash -c 'cd ui && npx prettier --check --log-level warn src'
echo "== Go tests"
go_tests
echo "== browser tests"
browser_tests
echo "$passed passed, $failed failed"
[ "$failed" -eq 0 ]
