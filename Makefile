# Everything the project does. See README.md.
SHELL := /bin/bash
PORT ?= 5080
DATA ?= data/demo.db

APP := dist/rapid-ledger
WEB := src/web/dist/index.html
DOTNET_SOURCES := $(shell find src demo -type f \( -name '*.cs' -o -name '*.csproj' -o -name '*.sql' -o -name '*.csv' -o -name '*.json' \) -not -path '*/obj/*' -not -path '*/bin/*' -not -path 'src/web/*') Directory.Build.props Directory.Packages.props
WEB_SOURCES := $(shell find src/web -type f -not -path '*/node_modules/*' -not -path '*/dist/*')
TESTS := Pricing Formats Storage Server Browser

.PHONY: demo build test check bench screenshots format api texts clean

## Builds, loads the demo shop and serves it on http://127.0.0.1:5080 (PORT= changes it).
demo: $(APP)
	@exec $(APP) serve --demo --data $(DATA) --port $(PORT)

## Leaves one executable, dist/rapid-ledger.
build: $(APP)

$(APP): $(WEB) $(DOTNET_SOURCES)
	dotnet publish src/RapidLedger.Server -c Release -o dist --nologo -v quiet
	@rm -f dist/*.xml dist/*.json dist/*.pdb && touch $@

$(WEB): $(WEB_SOURCES) src/web/node_modules/.package-lock.json
	cd src/web && npm run --silent build
	@touch $@

src/web/node_modules/.package-lock.json: src/web/package-lock.json
	cd src/web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

tests/%/node_modules/.package-lock.json: tests/%/package-lock.json
	cd tests/$* && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

## Formats and linters, then every test.
test:
	@# What only fetches waits for nothing; the rest is made side by side as far as it can be.
	@$(MAKE) --no-print-directory -j4 --output-sync=target restored fetched
	@$(MAKE) --no-print-directory -j3 --output-sync=target check
	@mkdir -p TestResults && rm -f TestResults/* && tests/stale-pictures
	@set -o pipefail; failed=0; (cd tests/web && npm run --silent test) || failed=1; for name in $(TESTS); do \
	  tests/RapidLedger.$$name.Tests/bin/Release/net10.0/RapidLedger.$$name.Tests -noColor -noLogo 2>&1 | tee TestResults/$$name.log || failed=1; \
	done; exit $$failed

.PHONY: restored fetched
restored:
	@dotnet restore RapidLedger.slnx -v quiet --nologo && dotnet tool restore -v q > /dev/null

fetched: src/web/node_modules/.package-lock.json tests/web/node_modules/.package-lock.json tests/references/node_modules/.package-lock.json browser-here

.PHONY: check-web check-types check-dotnet
check: check-web check-types check-dotnet

check-web: src/web/node_modules/.package-lock.json tests/web/node_modules/.package-lock.json
	cd src/web && npm run --silent check -- --colors=off && node_modules/.bin/biome ci --colors=off --config-path=. ../../tests/web && node_modules/.bin/tsc --noEmit -p ../../tests/web

# After what reads the types, for it writes them anew.
check-types: $(WEB) check-web
	@cd src/web && kept=$$(mktemp -d) && cp -p src/api/*.d.ts $$kept && npm run --silent types > /dev/null 2>&1; \
	  for one in schema promotion; do cmp -s $$kept/$$one.d.ts src/api/$$one.d.ts || failed="$$failed src/web/src/api/$$one.d.ts"; done; cp -p $$kept/*.d.ts src/api; \
	  [ -z "$$failed" ] || { echo "Not what their documents say, make api:$$failed"; exit 1; }

check-dotnet: $(APP)
	dotnet tool restore -v q > /dev/null && dotnet csharpier check src tests bench
	dotnet build RapidLedger.slnx -c Release --nologo -v quiet

# A browser with its driver, and a reverse proxy, from Debian.
.PHONY: browser-here
browser-here:
	@command -v chromium >/dev/null && command -v chromedriver >/dev/null || { apt-get update -qq && apt-get install -y -qq chromium chromium-driver >/dev/null; }
	@command -v nginx >/dev/null && command -v openssl >/dev/null || { apt-get update -qq && apt-get install -y -qq nginx-light openssl >/dev/null; }

## Every text that the web app shows, with where it stands.
texts: src/web/node_modules/.package-lock.json
	@cd src/web && node texts.mjs

## Times and allocations, as one table.
bench:
	dotnet run --project bench/RapidLedger.Benchmarks -c Release

## What lists, searches and prices cost in a large shop (ORDERS=, SHOPPERS=, ITEMS=), and its memory; takes some minutes.
.PHONY: sizes
sizes: $(APP)
	dotnet run --project bench/RapidLedger.Benchmarks -c Release -- sizes $(APP) $(or $(ORDERS),1000000) $(or $(SHOPPERS),100000) $(or $(ITEMS),50000)

## How long from a key at the desk until the tape is drawn again, in a headless browser.
.PHONY: keys
keys: $(APP) browser-here
	dotnet run --project bench/RapidLedger.Benchmarks -c Release -- keys $(APP) demo

## Changes core, formats, storage and server in one place at a time and says which changes the tests do not notice (COUNT=, SEED=); takes a minute and more for each.
.PHONY: mutations
mutations: $(APP) tests/references/node_modules/.package-lock.json
	for name in Pricing Formats Storage Server; do dotnet build src/RapidLedger.$$name -c Release --no-incremental --nologo -v quiet -p:EmitCompilerGeneratedFiles=true || exit 1; done
	for name in Formats Pricing Storage Server; do dotnet build tests/RapidLedger.$$name.Tests -c Release --nologo -v quiet || exit 1; done
	@# In proportion to their lines, of ten.
	@failed=0; count=$(or $(COUNT),200); for part in Pricing:5 Formats:2 Storage:1 Server:2; do \
	  dotnet run -c Release --project tests/RapidLedger.Mutations -- $$((count * $${part#*:} / 10)) $(or $(SEED),1) "" $${part%:*} || failed=1; done; exit $$failed

## The pictures in docs/screenshots, from the demo shop.
screenshots: $(APP) browser-here
	dotnet build tests/RapidLedger.Browser.Tests -c Release --nologo -v quiet
	tests/RapidLedger.Browser.Tests/bin/Release/net10.0/RapidLedger.Browser.Tests -noColor -noLogo -explicit only -class RapidLedger.Browser.Tests.Pictures
	tests/stale-pictures --made

## Formats everything.
format: src/web/node_modules/.package-lock.json
	cd src/web && npm run --silent format && node_modules/.bin/biome check --write --config-path=. ../../tests/web
	dotnet tool restore -v q > /dev/null && dotnet csharpier format src tests bench

## Writes the OpenAPI document and the web app's types anew from the server.
api: src/web/node_modules/.package-lock.json
	dotnet build src/RapidLedger.Server -c Release --nologo -v quiet
	@src/RapidLedger.Server/bin/Release/net10.0/rapid-ledger serve --port 5099 --data $$(mktemp -u) > /dev/null & server=$$!; \
	for i in $$(seq 50); do curl -sf http://127.0.0.1:5099/healthz >/dev/null && break; sleep 0.1; done; \
	curl -sf http://127.0.0.1:5099/openapi/v1.json -o src/web/src/api/openapi.json || { echo "The server did not start."; exit 1; }; \
	curl -sf http://127.0.0.1:5099/schemas/promotion.json -o src/web/src/api/promotion.schema.json; kill $$server; cd src/web && npm run --silent types

clean:
	rm -rf dist TestResults src/web/dist src/web/node_modules tests/references/node_modules tests/web/node_modules
	find src tests bench -type d \( -name bin -o -name obj \) -prune -exec rm -rf {} +
