#!/usr/bin/env bash
# What ./sieve test makes of the parts it runs beside each other: each failure is noticed, wherever in a part it is.
set -euo pipefail
cd "$(dirname "$0")/.."
scratch="$(mktemp -d)"
trap 'rm -rf "$scratch"' EXIT
mkdir "$scratch/.sieve"
{ echo "ROOT='$scratch'"; cat scripts/{common,tests}.sh; } >"$scratch/functions"
wrong() { printf 'parts: %s\n' "$1" >&2; exit 1; }

ended() { # NAME : whether a run of one part ends well
  bash -c 'set -euo pipefail; source "$0"; declare -gA PARTS=()
    fine() { echo "all is well"; }
    early() { false; echo "went on"; }
    refused() { fail "refused in words"; }
    part "$1" "$1"; parts_end' "$scratch/functions" "$1" >"$scratch/said" 2>&1
}

ended fine || wrong "a part that succeeds is told as a failure"
grep -q 'passed fine' "$scratch/said" || wrong "nothing is said of a part that succeeded"
for name in early refused; do
  ended "$name" && wrong "a failure is not noticed: $name"
  grep -q "FAILED $name" "$scratch/said" || wrong "nothing is said of the part that failed: $name"
done
grep -q 'refused in words' "$scratch/said" || wrong "what a failed part said is not shown"
ended early || ! grep -q 'went on' "$scratch/said" || wrong "a part goes on after a command of it has failed"
echo "  a failure anywhere in a part is noticed"
