#!/usr/bin/env bash
# Compares our sharing of a round with a general integer-programming solver on the same question. Needs Debian's
# glpk-utils (glpsol); it is a bench tool and never a dependency.
set -eu
cd "$(dirname "$0")/../.."
command -v glpsol >/dev/null || { echo "glpsol is not here: apt-get install glpk-utils" >&2; exit 1; }
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
for machines in 5 10 20 50 100; do
  for budget in no yes; do
    go run ./loads/rounds "$machines" 480 "$budget" >"$work/problem.lp" 2>"$work/ours"
    glpsol --lp "$work/problem.lp" --tmlim 120 -o "$work/out" >"$work/log" || true
    constant=$(sed -n 's/^constant //p' "$work/ours")
    optimum=$(awk -v c="$constant" '/^Objective:/ {printf "%d", $4 + c}' "$work/out")
    time=$(awk '/^Time used:/ {t=$3} END {print t " s"}' "$work/log")
    ours=$(sed -n 's/^ours \([0-9]*\),.*/\1/p' "$work/ours")
    verdict=DIFFER
    grep -q 'TIME LIMIT EXCEEDED' "$work/log" && verdict="the solver gave up, at best $optimum"
    [ "$optimum" = "$ours" ] && verdict=same
    echo "$machines machines, budget $budget: solver $optimum in $time; $(sed -n 2p "$work/ours"): $verdict"
  done
done
