# The figures in docs/figures.md. "./narbit bench mirror|orders|stock|start|pair|plan|preview|describe|read|wait|replay|propagate|desk|fuzz|hard" measures one of them.
bench_mirror() {
  local port=5391 pid
  echo "== reading 100,000 items into the mirror"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  dotnet "$(out Sandbox)" --port $port --items 100000 >/dev/null 2>&1 </dev/null &
  pid=$!
  trap 'kill $pid 2>/dev/null' EXIT
  wait_for $pid $port / "the sandbox" /dev/null
  dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" mirror "http://127.0.0.1:$port" demo/systems
  kill $pid
  trap - EXIT
}

# Orders: reading 100,000 with their lines, and computing from file to file on one core.
bench_orders() {
  local port=5393 pid work lines=99960
  echo "== reading 100,000 orders with their lines into the mirror"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  dotnet "$(out Sandbox)" --port $port --orders 182000 --shop-rate 5000 >/dev/null 2>&1 </dev/null &
  pid=$!
  trap 'kill $pid 2>/dev/null' EXIT
  wait_for $pid $port / "the sandbox" /dev/null
  # The stand-in answers on the same cores; the first time it is still being compiled.
  for _ in 1 2 3 4; do
    dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" mirror "http://127.0.0.1:$port" demo/systems orders
  done
  kill $pid
  trap - EXIT
  echo "== order rules, $lines lines on one core, reading and writing included"
  work=$(mktemp -d)
  for _ in $(seq $((lines / 120))); do cat tests/Narbit.Core.Tests/cases/order.jsonl; done >"$work/in.jsonl"
  for _ in 1 2 3; do
    local started=$EPOCHREALTIME
    taskset -c 0 dotnet "$(out Cli)" order --in "$work/in.jsonl" --out "$work/out.jsonl"
    awk -v from="$started" -v to="$EPOCHREALTIME" -v n=$lines 'BEGIN { printf "%.2f s, %d lines a second\n", to - from, n / (to - from) }'
  done
  rm -rf "$work"
}

bench_stock() {
  local work lines=500000
  echo "== stock rules, $lines lines on one core, reading and writing included"
  work=$(mktemp -d)
  # The worked cases over and over.
  for _ in $(seq $((lines / 60 + 1))); do cat tests/Narbit.Core.Tests/cases/stock.jsonl; done | head -n $lines >"$work/in.jsonl"
  for _ in 1 2 3; do
    local started=$EPOCHREALTIME
    taskset -c 0 dotnet "$(out Cli)" stock --in "$work/in.jsonl" --out "$work/out.jsonl"
    awk -v from="$started" -v to="$EPOCHREALTIME" -v n=$lines 'BEGIN { printf "%.2f s, %d lines a second\n", to - from, n / (to - from) }'
  done
  # The baseline: the same machine, at the same time, merely parsing the same lines in Node.
  echo "baseline: JSON.parse and JSON.stringify of each line in Node"
  taskset -c 0 node -e '
    const fs = require("fs"), [from, to] = process.argv.slice(1), started = process.hrtime.bigint();
    const lines = fs.readFileSync(from, "utf8").trimEnd().split("\n");
    fs.writeFileSync(to, lines.map((l) => JSON.stringify(JSON.parse(l))).join("\n"));
    const s = Number(process.hrtime.bigint() - started) / 1e9;
    console.log(s.toFixed(2) + " s, " + Math.round(lines.length / s) + " lines a second");
  ' "$work/in.jsonl" "$work/node.jsonl"
  rm -rf "$work"
}

# Pairs generated sets whose truth is known. Another seed makes another set of the same make: "./narbit bench pair" with SEEDS="4 5 6".
bench_pair() {
  local work seed count=100000
  work=$(mktemp -d)
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  local bench="bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll"
  for seed in ${SEEDS:-1 2 3}; do
    echo "== pairing $count with $count records, seed $seed, from file to file"
    dotnet "$bench" pairset $count "$seed" "$work"
    dotnet "$bench" pairrun "$(out Cli)" "$work"
    dotnet "$bench" pairscore "$work"
    # The baseline: merely joining the same two files by their SKU.
    node -e '
      const fs = require("fs"), dir = process.argv[1], started = process.hrtime.bigint();
      const rows = (f) => fs.readFileSync(dir + "/" + f, "utf8").trimEnd().split("\n").slice(1).map((l) => l.split(","));
      const by = new Map(rows("right.csv").map((r) => [r[1], r[0]]));
      fs.writeFileSync(dir + "/joined.csv", rows("left.csv").map((l) => l[0] + "," + (by.get(l[1]) ?? "")).join("\n"));
      console.log("baseline: " + (Number(process.hrtime.bigint() - started) / 1e9).toFixed(2) + " s to read both files and join them by SKU in Node");
    ' "$work"
  done
  rm -rf "$work"
}

# Starts the demo in a pseudo-terminal-free way and says how long it took to answer.
bench_start() {
  local work port=5395 started pid
  work=$(mktemp -d)
  echo "== ./narbit demo from a fresh clone, then again"
  git clone -q . "$work/clone"
  for which in first second; do
    started=$EPOCHREALTIME
    "$work/clone/narbit" demo --port $port --data "$work/data" >"$work/log" 2>&1 </dev/null &
    pid=$!
    while ! grep -q Ctrl-C "$work/log"; do
      kill -0 $pid 2>/dev/null || { cat "$work/log"; return 1; }
      sleep 0.05
    done
    awk -v from="$started" -v to="$EPOCHREALTIME" -v w=$which 'BEGIN { printf "%s start: %.1f s\n", w, to - from }'
    kill -TERM $pid
    wait $pid || true
  done
  rm -rf "$work"
}

# 100,000 items by twelve mapped fields, 5 % of them changed: compared, and the change set stored.
bench_plan() {
  local work
  work=$(mktemp -d)
  echo "== comparing 100,000 items by 12 mapped fields and storing the change set"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  local bench="bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll"
  dotnet "$bench" planset 100000 "$work"
  dotnet "$bench" planstore "$work"
  for _ in 1 2 3; do dotnet "$bench" planrun "$work"; done
  dotnet "$bench" planedit "$work"
  rm -rf "$work"
}

# The same comparison from two files to a file of differences, and by a full outer join in DuckDB, each as a whole process.
bench_preview() {
  local work started
  work=$(mktemp -d)
  echo "== from two CSV files of 100,000 × 12 to a CSV of differences"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  quietly npm --prefix bench/duckdb ci --no-audit --no-fund
  dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" planset 100000 "$work"
  for _ in 1 2 3 4 5; do
    started=$EPOCHREALTIME
    DOTNET_TieredCompilation=1 DOTNET_TieredPGO=0 dotnet "$(out Cli)" preview --lane "$work/lane.json" --left "$work/left.csv" --right "$work/right.csv" --out "$work/changes.csv" 2>/dev/null >/dev/null
    awk -v from="$started" -v to="$EPOCHREALTIME" 'BEGIN { printf "narbit preview  %.2f s", to - from }'
    started=$EPOCHREALTIME
    node bench/duckdb/join.mjs "$work/left.csv" "$work/right.csv" "$work/joined.csv"
    awk -v from="$started" -v to="$EPOCHREALTIME" 'BEGIN { printf "    baseline: full outer join by DuckDB  %.2f s\n", to - from }'
  done
  # One quotes what holds a semicolon, the other does not; the values are the same.
  if cmp -s <(tr -d '"' <"$work/changes.csv" | sort) <(tr -d '"' <"$work/joined.csv" | sort); then
    echo "both wrote the same $(($(wc -l <"$work/changes.csv") - 1)) differences"
  else
    echo "they differ"
    return 1
  fi
  rm -rf "$work"
}

# What is proposed of ten systems of different habits, whose fields are known. Another seed makes another ten.
# What reading costs by how replies are written, and whether the stated rate is kept by every paging and sign-in.
bench_replay() {
  local work
  echo "== replays of what a timetable costs, 1,080,000 orders and deliveries on one core, reading and writing included"
  work=$(mktemp -d)
  node bench/replay.mjs >"$work/in.jsonl"
  for _ in 1 2 3; do
    local started=$EPOCHREALTIME
    taskset -c 0 dotnet "$(out Cli)" replay --in "$work/in.jsonl" --out "$work/out.jsonl"
    awk -v from="$started" -v to="$EPOCHREALTIME" 'BEGIN { printf "%.2f s, %d events a second\n", to - from, 1080000 / (to - from) }'
  done
  rm -rf "$work"
}

# A purchase at the market until the three other stores show what is left; ten times the rate last.
bench_propagate() {
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  local set
  for set in ${PROPAGATE:-"600 5 300" "100000 5 300" "600 50 60"}; do
    echo "== from a purchase to the other stores: items, purchases a second, seconds: $set"
    # shellcheck disable=SC2086
    dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" propagate "$(out Web)" $set
  done
}

# The mismatch desk with half a million on it, and what ten thousand unknown SKUs are.
bench_desk() {
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  echo "== mismatches: taken in, looked through, ways out"
  dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" desk "$(out Web)"
}

bench_read() {
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" read
}

# How long others wait for the one lock while a large change set is stored, and how quickly news are seen among a million records.
bench_wait() {
  local folder
  echo "== waiting while 200,000 writes are stored, and news among 1,000,000 records"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  folder=$(mktemp -d)
  dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" wait "$folder"
  rm -rf "$folder"
}

bench_describe() {
  echo "== proposals for ten generated systems"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  for seed in ${SEEDS:-1 2 3}; do dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" describe "$seed"; done
}

# The process is killed a thousand times (or NARBIT_KILLS times) while all that Narbit does is at work, two demos at once; an hour.
bench_hard() {
  echo "== ${NARBIT_KILLS:-1000} kills at random points, fault dials on at both sides"
  quietly dotnet build tests/Narbit.Web.Tests -c $config -v quiet
  local log
  log=$(mktemp)
  # Each process lives a few seconds, so that compiling quickly is worth more than compiling well.
  DOTNET_TieredPGO=0 "tests/Narbit.Web.Tests/bin/$config/net10.0/Narbit.Web.Tests" -class Narbit.Web.Tests.KillTests -explicit only \
    -showLiveOutput 2>&1 </dev/null | tee "$log" | grep --line-buffered -o 'OUTPUT. round .*' || true
  grep -q 'Failed: 0' "$log" || { tail -80 "$log"; return 1; }
  grep -o '[0-9]* kills: .*' "$log" | tail -1
  rm -f "$log"
}

# Spoilt inputs through every door, "NARBIT_FUZZ=N ./narbit bench fuzz" for another number a door, NARBIT_DOOR=csv,xml for some of them.
# Readers take buffers of 64 Ki characters for a file of any size; here, where there are millions of files, they are not collected one by one.
bench_fuzz() {
  local each=${NARBIT_FUZZ:-100000} log
  echo "== $each spoilt inputs through each door"
  quietly dotnet build tests/Narbit.Core.Tests -c $config -v quiet
  log=$(mktemp)
  (
    cd "tests/Narbit.Core.Tests/bin/$config/net10.0"
    export DOTNET_GCLOHThreshold=2000000 DOTNET_GCgen0size=0x4000000
    NARBIT_FUZZ=$each ./Narbit.Core.Tests -class Narbit.Core.Tests.FuzzTests -diagnostics
  ) >"$log" 2>&1 </dev/null || { grep -v '^ *at ' "$log" | tail -60; return 1; }
  grep -o '[a-z ]*: [0-9]* inputs, .*' "$log"
  rm -f "$log"
}

build_dotnet
for figure in ${*:-stock pair plan preview mirror orders describe read wait replay start propagate desk fuzz hard}; do "bench_$figure"; done
