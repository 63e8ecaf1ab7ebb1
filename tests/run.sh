# Everything that checks the project, from a clean clone, or a part of it; ends with "N passed, N failed".
passed=0 failed=0
log=$(mktemp -d)
# Watching the code to make it faster later does not pay in programs that live for seconds: without it the tests take a quarter less.
export DOTNET_TieredPGO=0
# Nor does compiling again what was called thirty times.
export DOTNET_TC_CallCountThreshold=1000
trap 'rm -rf "$log"' EXIT

# One check: counts it, and shows what it said only where it failed.
check() {
  local name=$1 started=$SECONDS
  shift
  if "$@" >"$log/out" 2>&1; then
    passed=$((passed + 1))
    echo "ok    $name ($((SECONDS - started)) s)"
  else
    failed=$((failed + 1))
    echo "FAIL  $name"
    tail -60 "$log/out"
  fi
}
finish() {
  echo "$passed passed, $failed failed"
  [ "$failed" -eq 0 ]
  exit
}

install_browser() {
  command -v chromium >/dev/null && command -v chromedriver >/dev/null && return 0
  if [ "$(id -u)" -eq 0 ] && command -v apt-get >/dev/null; then
    DEBIAN_FRONTEND=noninteractive apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium chromium-driver
  else
    echo "The browser tests need Debian's chromium and chromium-driver. Install them with: sudo apt-get install chromium chromium-driver"
    return 1
  fi
}

install_sftp_server() {
  [ -x /usr/sbin/sshd ] && return 0
  if [ "$(id -u)" -eq 0 ] && command -v apt-get >/dev/null; then
    DEBIAN_FRONTEND=noninteractive apt-get update -qq &&
      DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends openssh-server
  else
    echo "The SFTP tests need Debian's openssh-server. Install it with: sudo apt-get install openssh-server"
    return 1
  fi
}

# Runs a test program, or what of it is named, and adds its own counts.
tests() {
  local name=$1 started=$SECONDS summary
  shift
  "tests/Narbit.$name.Tests/bin/$config/net10.0/Narbit.$name.Tests" "$@" >"$log/tests" 2>&1 </dev/null || true
  summary=$(grep -o 'Total: [0-9]*, Errors: [0-9]*, Failed: [0-9]*, Skipped: [0-9]*' "$log/tests" | tail -1)
  if [ -z "$summary" ]; then
    failed=$((failed + 1))
    echo "FAIL  $name tests did not run to their end"
    tail -60 "$log/tests"
    return
  fi
  local total errors bad skipped
  read -r total errors bad skipped <<<"$(sed 's/[^0-9 ]//g' <<<"$summary" | tr -s ' ')"
  passed=$((passed + total - bad - skipped))
  failed=$((failed + bad + errors))
  [ "$total" -gt 0 ] || failed=$((failed + 1))
  if [ $((bad + errors)) -eq 0 ]; then
    echo "ok    $name tests: $total ($((SECONDS - started)) s)"
  else
    echo "FAIL  $name tests: $((bad + errors)) of $total"
    grep -vE '^\s*at ' "$log/tests" | grep -A25 'FAIL\]' | cut -c1-500 | head -200
  fi
}

# The logic of the front end; its tests are counted with the others.
front_end_tests() {
  local started=$SECONDS report=$log/front-end.json total bad
  npm --prefix web test -- --reporter=json --outputFile="$report" "$@" >"$log/tests" 2>&1 </dev/null || true
  read -r total bad < <(node -p 'const r = JSON.parse(fs.readFileSync(process.argv[1])); `${r.numTotalTests} ${r.numTotalTests - r.numPassedTests}`' "$report")
  if [ "${total:-0}" -gt 0 ] && [ "$bad" -eq 0 ]; then
    passed=$((passed + total))
    echo "ok    front-end tests: $total ($((SECONDS - started)) s)"
  else
    failed=$((failed + ${bad:-1}))
    echo "FAIL  front-end tests: ${bad:-none} of ${total:-none}"
    tail -60 "$log/tests"
  fi
}

# Checks that need little of the machine go beside others; what they counted and said is taken in when they are waited for.
beside() {
  local name=$1
  shift
  (
    mkdir "$log/$name"
    passed=0 failed=0 log=$log/$name
    "$@"
    echo "$passed $failed" >"$log/counts"
  ) >"$log/$name.said" 2>&1 &
}
join() {
  local name=$1 one other
  wait
  cat "$log/$name.said"
  read -r one other <"$log/$name/counts" || { one=0 other=1; }
  passed=$((passed + one)) failed=$((failed + other))
}

# One compiler serves all projects, whatever the environment says, and goes when the last is built.
build() {
  local result=0
  dotnet build Narbit.slnx -c "$config" --no-restore -v quiet -p:UseSharedCompilation=true || result=1
  dotnet build-server shutdown --vbcscompiler >/dev/null || true
  # What was built here need not be built again to be run.
  [ "$result" -eq 0 ] && mkdir -p "$stamps" && touch "$stamps/dotnet"
  return $result
}

install_packages() {
  npm --prefix web ci --no-audit --no-fund && mkdir -p "$stamps" && touch "$stamps/npm"
}
front_end_packages() {
  check "front-end packages" install_packages
}
build_front_end() {
  npm --prefix web run build && touch "$stamps/web"
}
front_end() {
  check "types from OpenAPI" npm --prefix web run types
  check "formatting and lint of TypeScript" npm --prefix web run check
  check "types and build of the front end" build_front_end
  front_end_tests
  check "browser" install_browser
  check "no line of a shell script is wrong" bash -n narbit tests/run.sh tests/shots.sh bench/run.sh
}

# The part at hand, built without analyzers: the tests of a project, or those of a class, a method or a file of the front end.
part() {
  local name=$1 project=
  case $name in
    core | engine | web)
      project=${name^}
      shift
      ;;
    *[!A-Za-z0-9_.]*) fail "a part is core, engine, web, or the name of a test." ;;
    *)
      if [ -e "web/tests/$name.test.ts" ] || [ -e "web/tests/$name.test.tsx" ]; then
        build_web
        front_end_tests "tests/$name.test"
        finish
      fi
      project=$(grep -rlE --include=*.cs "(class|Task|void) $name\\b" tests | sed -nE 's|tests/Narbit\.([A-Za-z]+)\.Tests/.*|\1|p' | sort -u)
      [ -n "$project" ] || fail "no test is called $name. A part is core, engine, web, or the name of a class, a method or a file of tests."
      if grep -rqE --include=*.cs "class $name\\b" tests; then set -- -class "*.$name"; else set -- -method "*.$name"; fi
      ;;
  esac
  for one in $project; do
    check "build of $one" dotnet build "tests/Narbit.$one.Tests" -c "$config" -v quiet -p:RunAnalyzers=false
    [ "$failed" -eq 0 ] || finish
    if [ "$one" = Web ]; then
      build_web
      check "browser" install_browser
    fi
    [ "$one" = Core ] || check "SFTP server" install_sftp_server
    tests "$one" "$@"
  done
  finish
}
[ $# -eq 0 ] || part "$1"

beside packages front_end_packages
check "packages as locked" dotnet restore Narbit.slnx --locked-mode
check "tools as named" dotnet tool restore
check "formatting of C#" dotnet csharpier check .
check "build, analyzers" build
join packages
check "SFTP server" install_sftp_server
[ "$failed" -eq 0 ] || finish
beside front-end front_end
tests Core
tests Engine
join front-end
tests Web
finish
