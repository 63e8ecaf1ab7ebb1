# Lines that are not empty: of the code, of the tests, and how the two compare.
lines() { git ls-files -- "$@" | grep -vE 'Migrations/|package-lock|packages.lock|/cases/' | xargs cat 2>/dev/null | grep -c '[^[:space:]]' || true; }
code=$(lines 'src/*.cs' 'web/src/*.ts' 'web/src/*.tsx' 'web/src/*.css' narbit 'bench/*.cs')
tests=$(lines 'tests/*.cs' 'tests/*.sh' 'web/tests/*.ts' 'web/tests/*.tsx')
echo "code $code lines, tests $tests lines: tests are $((100 * tests / code)) % of the code"
