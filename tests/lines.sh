# Lines that are not empty: code, tests, and the share of tests.
lines() { git ls-files -- "$@" | grep -vE 'Migrations/|package-lock|packages.lock|/cases/' | xargs cat 2>/dev/null | grep -c '[^[:space:]]' || true; }
code=$(lines 'src/*.cs' 'web/src/*.ts' 'web/src/*.tsx' 'web/src/*.css' narbit 'bench/*.cs')
tests=$(lines 'tests/*.cs' 'tests/*.sh')
echo "code $code, tests $tests, tests are $((100 * tests / (code + tests))) % of both"
