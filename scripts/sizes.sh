#!/usr/bin/env bash
# Lines of code by floor, and the share of tests.
cd "$(dirname "$0")/.."
count() { git ls-files "$@" | grep -vE 'schema\.d\.ts$' | xargs -r cat | wc -l; }
tests=$(($(git ls-files '*_test.go' 'core/posting/postingtest/*.go' 'e2e/tests/*.ts' | sort -u | xargs cat | wc -l)))
all=$(count '*.go' '*.ts' '*.tsx' '*.sql')
for floor in core formats store books web cmd demo bench ui/src e2e; do
  printf '%-10s %6d\n' "$floor" "$(count "$floor/*.go" "$floor/*.ts" "$floor/*.tsx" "$floor/*.sql")"
done
printf '%-10s %6d\n%-10s %6d  (%d %%)\n' all "$all" tests "$tests" $((tests * 100 / all))
