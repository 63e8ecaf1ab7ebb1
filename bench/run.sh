# The figures in docs/figures.md. "./narbit bench mirror|stock|start" measures one of them.
bench_mirror() {
  local port=5391 pid
  echo "== reading 100,000 items into the mirror"
  quietly dotnet build bench/Narbit.Bench -c $config -v quiet
  dotnet "$(out Sandbox)" --port $port --items 100000 >/dev/null 2>&1 </dev/null &
  pid=$!
  trap 'kill $pid 2>/dev/null' EXIT
  wait_for $pid $port / "the sandbox" /dev/null
  dotnet "bench/Narbit.Bench/bin/$config/net10.0/Narbit.Bench.dll" "http://127.0.0.1:$port" demo/systems
  kill $pid
  trap - EXIT
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

build_dotnet
for figure in ${*:-stock mirror start}; do "bench_$figure"; done
