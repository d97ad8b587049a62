#!/usr/bin/env bash
# Whole runs over those of another commit, built and run in turn on this machine; medians.
#   bench/against.sh COMMIT [--runs 3] [--threads 2] [MODEL.anvil …]
# Writes a Markdown table: time over that of the other commit, and the parts of the time, before and now.
set -euo pipefail
here=$(dirname "$(dirname "$(readlink -f "${BASH_SOURCE[0]}")")")
[ $# -ge 1 ] || { sed -n '2,4p' "$0" | sed 's/^# \{0,1\}//'; exit 2; }
commit=$(git -C "$here" rev-parse --verify "$1^{commit}") || { echo "There is no commit '$1'." >&2; exit 2; }
shift
runs=3 threads=2 models=()
while [ $# -gt 0 ]; do
  case "$1" in
    --runs) runs=$2; shift 2 ;;
    --threads) threads=$2; shift 2 ;;
    *) models+=("$(readlink -f "$1")"); shift ;;
  esac
done
if [ ${#models[@]} -eq 0 ]; then
  for m in ferrule-crimp rudder-bush chainplate-pin deck-clamp; do models+=("$here/examples/$m/$m.anvil"); done
  models+=("$here/verification/B1-joint.anvil")
fi

other="$here/build/against/$commit"
if [ ! -x "$other/build/src/cli/anvil" ]; then
  echo "Building $commit; this takes some minutes." >&2
  mkdir -p "$other"
  git -C "$here" archive "$commit" | tar -x -C "$other"
  cmake -S "$other" -B "$other/build" -G Ninja -DANVIL_BATCHES=ON -DANVIL_APP=OFF -DANVIL_TESTS=OFF -DANVIL_BENCH=OFF >/dev/null
  cmake --build "$other/build" --target anvil-cli anvil-mesher >/dev/null
fi
cmake --build "$here/build" --target anvil-cli anvil-mesher >/dev/null

work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
# iterations, seconds of the run, then elements, contact, assembly, factorisation, solution
one() {
  local begin end
  begin=$(date +%s.%N)
  "$1/build/src/cli/anvil" run "$2" --out "$work/run.h5" --quiet --timing --threads "$threads" >"$work/says" 2>&1 || true
  end=$(date +%s.%N)
  awk -v s="$(awk "BEGIN { print $end - $begin }")" '/^iterations/ { gsub(/[,;:a-z]/, ""); print $1, s, $2, $3, $4, $5, $6; found = 1 }
    END { if (!found) print 0, s, 0, 0, 0, 0, 0 }' "$work/says"
  rm -f "$work"/run*
}
median() { sort -n -k2 "$1" | awk '{ row[NR] = $0 } END { print row[int((NR + 1) / 2)] }'; }

echo "| model, $threads threads | time over before | iterations | elements | contact | assembly | factorisation | solution |"
echo "|---|---|---|---|---|---|---|---|"
for m in "${models[@]}"; do
  : >"$work/before.txt"; : >"$work/now.txt"
  for _ in $(seq "$runs"); do one "$other" "$m" >>"$work/before.txt"; one "$here" "$m" >>"$work/now.txt"; done
  paste -d' ' <(median "$work/before.txt") <(median "$work/now.txt") | awk -v name="$(basename "$m" .anvil)" '
    function pair(a, b) { return sprintf("%.0f %% → %.0f %%", 100 * a / $2, 100 * b / $2) }
    { printf "| %s | %.2f | %d → %d | %s | %s | %s | %s | %s |\n", name, $9 / $2, $1, $8, pair($3, $10), pair($4, $11), pair($5, $12),
        pair($6, $13), pair($7, $14) }'
done
echo "(Parts are shares of the time before.)"
