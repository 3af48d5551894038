# What others rely on: make demo, make test, make build.
export CGO_ENABLED = 1
GO = go
NPM = npm

.PHONY: build demo test torture types shots bench bench-ui sizes lint go-test e2e interface clean

build: interface
	$(GO) build -o bin/cleantally ./cmd/cleantally

interface: ui/dist/index.html

ui/node_modules/.package-lock.json: ui/package-lock.json
	cd ui && $(NPM) ci --no-audit --no-fund
	@touch $@

ui/dist/index.html: ui/node_modules/.package-lock.json ui/index.html ui/vite.config.ts $(shell find ui/src ui/public -type f)
	cd ui && npx vite build

demo: build
	./bin/cleantally demo

# The interface's types come from the API's description.
types:
	$(GO) run ./cmd/cleantally openapi > ui/src/api/openapi.json
	cd ui && npx openapi-typescript src/api/openapi.json -o src/api/schema.d.ts

lint: ui/node_modules/.package-lock.json
	test -z "$$(gofmt -l cmd web books store formats core demo bench standin ui/embed.go)"
	$(GO) vet ./...
	$(GO) tool staticcheck ./...
	cd ui && npx tsc --noEmit && npx eslint . && npx prettier --check --log-level warn src

test:
	bash scripts/test.sh

# What looks for trouble by chance, twenty times as hard: kills while posting,
# importing, setting up, upgrading and backing up, power cuts, turned bits,
# requests with several things wrong, and every parser fuzzed for a minute.
torture:
	TORTURE=20 $(GO) test -v -timeout 90m -run 'TestKilled|TestPowerCuts|TestTurnedBitsAreFound|TestMutatedRequests' ./cmd/cleantally ./books ./store ./web | grep -E '^(---|ok|FAIL|    )'
	for f in $$(grep -rl --include='*_test.go' --exclude-dir=node_modules '^func Fuzz' .); do for x in $$(sed -n 's/^func \(Fuzz[A-Za-z]*\).*/\1/p' $$f); do \
		$(GO) test $$(dirname $$f) -run XXX -fuzz "^$$x$$" -fuzztime 1m -fuzzminimizetime 2s || exit 1; done; done

go-test:
	$(GO) test ./...

e2e: build
	cd e2e && npx playwright test

# How long everything takes, against its goals: of firms of so many papers, which
# are told by the real rules once and lie beside the build afterwards.
FIRMS = 10000,100000
bench:
	$(GO) test -timeout 3h -run XXX -bench . -benchtime 1x ./bench -args -firms=$(FIRMS)

bench-ui: build
	cd e2e && BENCH=1 FIRMS=$(FIRMS) npx playwright test --workers 1 bench

shots: build
	cd e2e && SHOTS=1 npx playwright test shots

sizes:
	@bash scripts/sizes.sh

clean:
	rm -rf bin ui/dist/assets ui/dist/index.html
